from django.urls import path

from results import reflection_views, views

urlpatterns = [
    path("runs/<int:pk>/comparison", views.ComparisonView.as_view()),
    path("runs/<int:pk>/history", views.HistoryView.as_view()),
    path("runs/<int:pk>/reasons", views.ReasonsView.as_view()),
    path("runs/<int:pk>/experience", views.ExperienceView.as_view()),
    path("runs/<int:pk>/hints", reflection_views.HintsView.as_view()),
    path("runs/<int:pk>/rubric", reflection_views.RubricView.as_view()),
    path("trials/<uuid:pk>/motions", views.MotionsView.as_view()),
    path("designs/<int:pk>/rubric", reflection_views.RubricMarkView.as_view()),
    path("designs/<int:pk>/reflection", reflection_views.ReflectionView.as_view()),
]
