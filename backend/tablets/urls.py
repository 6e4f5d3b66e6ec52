from django.urls import path

from tablets import station_views, views

urlpatterns = [
    path("runs/<int:pk>/door", views.RunDoorView.as_view()),
    path("runs/<int:pk>/stations", station_views.RunStationsView.as_view()),
    path("boards/<slug:token>/way-in", views.BoardWayInView.as_view()),
    path("join", views.JoinView.as_view()),
    path("team", views.TeamPageView.as_view()),
    path("team/note", views.TeamNoteView.as_view()),
    path("team/prediction", views.TeamPredictionView.as_view()),
    path("team/who", views.TeamWhoView.as_view()),
    path("team/readings", views.TeamReadingsView.as_view()),
    path("team/photos", views.TeamPhotosView.as_view()),
    path("team/photos/<int:pk>", views.TeamPhotoView.as_view()),
    path("team/practice", views.TeamPracticeView.as_view()),
    path("team/answers", views.TeamAnswersView.as_view()),
    path("team/next-version", views.TeamNextVersionView.as_view()),
    path("team/draft", views.TeamDraftView.as_view()),
    path("team/bench", station_views.TeamBenchView.as_view()),
    path("team/trials", station_views.TeamTrialsView.as_view()),
    path("team/trials/<uuid:pk>", station_views.TeamTrialView.as_view()),
    path("team/trials/<uuid:pk>/events", station_views.TeamTrialEventsView.as_view()),
    path("team/trials/<uuid:pk>/take-over", station_views.TeamTakeOverView.as_view()),
]
