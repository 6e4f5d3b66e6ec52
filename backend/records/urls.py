from django.urls import path

from records import views

urlpatterns = [
    path("runs/import", views.RunImportView.as_view()),
    path("runs/<int:pk>/run.json", views.RunFileView.as_view()),
    path("runs/<int:pk>/results-table", views.ResultsTableView.as_view()),
    path("runs/<int:pk>/results.xlsx", views.WorkbookView.as_view()),
    path("runs/<int:pk>/rubric.csv", views.RubricCsvView.as_view()),
]
