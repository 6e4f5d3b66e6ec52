from django.urls import path

from drafting import views

urlpatterns = [
    path("draft-kinds", views.DraftKindListView.as_view()),
    path("drafts", views.DraftView.as_view()),
    path("drafts/film", views.DraftFilmView.as_view()),
    path("drafts/why", views.DraftWhyView.as_view()),
    path("stocks", views.StockListView.as_view()),
    path("stocks/try", views.StockTryView.as_view()),
    path("stocks/<int:pk>", views.StockView.as_view()),
]
