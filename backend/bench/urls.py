from django.urls import path

from bench import draft_views, run_views, views

urlpatterns = [
    path("runs", run_views.RunListView.as_view()),
    path("runs/<int:pk>", run_views.RunView.as_view()),
    path("runs/<int:pk>/teams", run_views.RunTeamsView.as_view()),
    path("runs/<int:pk>/build-clock", run_views.BuildClockView.as_view()),
    path("runs/<int:pk>/plan", run_views.RunPlanView.as_view()),
    path("runs/<int:pk>/goal", run_views.RunGoalView.as_view()),
    path("runs/<int:pk>/container", run_views.ContainerView.as_view()),
    path("runs/<int:pk>/comparison", run_views.ComparisonView.as_view()),
    path("designs/<int:pk>", views.DesignView.as_view()),
    path("designs/<int:pk>/readings", views.ReadingsView.as_view()),
    path("designs/<int:pk>/self-mass-estimate", views.SelfMassEstimateView.as_view()),
    path("designs/<int:pk>/level", views.LevelView.as_view()),
    path("designs/<int:pk>/answers", views.AnswersView.as_view()),
    path("designs/<int:pk>/prediction", views.PredictionView.as_view()),
    path("designs/<int:pk>/check-in", views.CheckInView.as_view()),
    path("designs/<int:pk>/next-version", views.NextVersionView.as_view()),
    path("designs/<int:pk>/trials", views.TrialListView.as_view()),
    path("designs/<int:pk>/draft-start", draft_views.DraftStartView.as_view()),
    path("designs/<int:pk>/draft", draft_views.DesignDraftView.as_view()),
    path("designs/<int:pk>/show-model", draft_views.ShowModelView.as_view()),
    path("designs/<int:pk>/practice", draft_views.PracticeView.as_view()),
    path("designs/<int:pk>/glue", draft_views.GlueView.as_view()),
    path("runs/<int:pk>/experience", draft_views.ExperienceView.as_view()),
    path("trials/<uuid:pk>", views.TrialView.as_view()),
    path("trials/<uuid:pk>/events", views.TrialEventsView.as_view()),
    path("trials/<uuid:pk>/take-over", views.TakeOverView.as_view()),
]
