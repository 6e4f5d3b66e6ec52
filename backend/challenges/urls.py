from django.urls import path

from challenges import views

urlpatterns = [
    path("families", views.FamilyListView.as_view()),
    path("recipes", views.RecipeListView.as_view()),
    path("recipes/<int:pk>", views.RecipeView.as_view()),
]
