from django.urls import path

from reports import views

urlpatterns = [
    path("runs/<int:pk>/results.csv", views.ResultsCsvView.as_view()),
    path("runs/<int:pk>/ledger.csv", views.LedgerCsvView.as_view()),
]
