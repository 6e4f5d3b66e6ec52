from django.urls import path

from reports import views

urlpatterns = [
    path("runs/<int:pk>/results.csv", views.ResultsCsvView.as_view()),
    path("runs/<int:pk>/ledger.csv", views.LedgerCsvView.as_view()),
    path("runs/<int:pk>/kit.csv", views.RunKitCsvView.as_view()),
    path("runs/<int:pk>/print/<slug:document>", views.RunPrintView.as_view()),
    path("recipes/<int:pk>/kit.csv", views.RecipeKitCsvView.as_view()),
    path("recipes/<int:pk>/print/<slug:document>", views.RecipePrintView.as_view()),
]
