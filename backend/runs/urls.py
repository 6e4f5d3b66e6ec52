from django.urls import path

from runs import design_views, draft_views, photo_views, views

urlpatterns = [
    path("runs", views.RunListView.as_view()),
    path("runs/<int:pk>", views.RunView.as_view()),
    path("runs/<int:pk>/teams", views.RunTeamsView.as_view()),
    path("runs/<int:pk>/build-clock", views.BuildClockView.as_view()),
    path("runs/<int:pk>/queue", views.QueueView.as_view()),
    path("runs/<int:pk>/bench-end", views.BenchEndView.as_view()),
    path("runs/<int:pk>/young", views.YoungView.as_view()),
    path("runs/<int:pk>/plan", views.RunPlanView.as_view()),
    path("runs/<int:pk>/why", views.WhyView.as_view()),
    path("runs/<int:pk>/goal", views.RunGoalView.as_view()),
    path("runs/<int:pk>/container", views.ContainerView.as_view()),
    path("designs/<int:pk>", design_views.DesignView.as_view()),
    path("designs/<int:pk>/readings", design_views.ReadingsView.as_view()),
    path("designs/<int:pk>/self-mass-estimate", design_views.SelfMassEstimateView.as_view()),
    path("designs/<int:pk>/level", design_views.LevelView.as_view()),
    path("designs/<int:pk>/answers", design_views.AnswersView.as_view()),
    path("designs/<int:pk>/controls", design_views.ControlsView.as_view()),
    path("designs/<int:pk>/prediction", design_views.PredictionView.as_view()),
    path("designs/<int:pk>/check-in", design_views.CheckInView.as_view()),
    path("designs/<int:pk>/next-version", design_views.NextVersionView.as_view()),
    path("designs/<int:pk>/draft-start", draft_views.DraftStartView.as_view()),
    path("designs/<int:pk>/draft", draft_views.DesignDraftView.as_view()),
    path("designs/<int:pk>/show-model", draft_views.ShowModelView.as_view()),
    path("designs/<int:pk>/practice", draft_views.PracticeView.as_view()),
    path("designs/<int:pk>/glue", draft_views.GlueView.as_view()),
    path("designs/<int:pk>/photos", photo_views.PhotosView.as_view()),
    path("photos/<int:pk>", photo_views.PhotoView.as_view()),
]
