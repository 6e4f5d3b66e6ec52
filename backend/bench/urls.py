from django.urls import path

from bench import views

urlpatterns = [
    path("designs/<int:pk>/trials", views.TrialListView.as_view()),
    path("trials/<uuid:pk>", views.TrialView.as_view()),
    path("trials/<uuid:pk>/events", views.TrialEventsView.as_view()),
    path("trials/<uuid:pk>/move", views.MoveView.as_view()),
    path("trials/<uuid:pk>/record", views.RecordView.as_view()),
    path("runs/<int:pk>/ahead", views.AheadView.as_view()),
    path("runs/<int:pk>/changes", views.ChangesView.as_view()),
    path("trials/<uuid:pk>/station", views.TrialStationView.as_view()),
    path("trials/<uuid:pk>/take-over", views.TakeOverView.as_view()),
]
