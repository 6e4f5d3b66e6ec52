from django.urls import path

from instruments import views

urlpatterns = [
    path("instruments", views.InstrumentListView.as_view()),
    path("instruments/read", views.InstrumentReadView.as_view()),
    path("instruments/table", views.TableReadView.as_view()),
    path("instruments/lines", views.InstrumentLinesView.as_view()),
    path("force-logs/practice", views.PracticeLogView.as_view()),
    path("force-logs", views.ForceLogView.as_view()),
]
