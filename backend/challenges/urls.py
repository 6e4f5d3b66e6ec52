from django.urls import path

from challenges import views

urlpatterns = [
    path("families", views.FamilyListView.as_view()),
    path("goal-words", views.GoalWordsView.as_view()),
    path("coins", views.CoinListView.as_view()),
    path("plans", views.PlanView.as_view()),
    path("plans/why", views.PlanWhyView.as_view()),
    path("recipes", views.RecipeListView.as_view()),
    path("recipes/import", views.RecipeImportView.as_view()),
    path("recipes/<int:pk>", views.RecipeView.as_view()),
    path("recipes/<int:pk>/copy", views.RecipeCopyView.as_view()),
    path("recipes/<int:pk>/file", views.RecipeFileView.as_view()),
    path("library", views.LibraryView.as_view()),
]
