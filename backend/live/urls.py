from django.urls import path

from live import views

urlpatterns = [
    path("runs/<int:pk>/board", views.RunBoardView.as_view()),
    path("runs/<int:pk>/stream", views.run_stream),
    path("boards/<slug:token>", views.BoardView.as_view()),
    path("boards/<slug:token>/photos/<int:pk>", views.BoardPhotoView.as_view()),
    path("boards/<slug:token>/stream", views.board_stream),
]
