from django.urls import path

from tablets import views

urlpatterns = [
    path("runs/<int:pk>/door", views.RunDoorView.as_view()),
    path("join", views.JoinView.as_view()),
    path("team", views.TeamPageView.as_view()),
    path("team/note", views.TeamNoteView.as_view()),
    path("team/prediction", views.TeamPredictionView.as_view()),
]
