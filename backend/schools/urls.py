from django.urls import path

from schools import views

urlpatterns = [
    path("school", views.SchoolView.as_view()),
    path("school/invitations", views.SchoolInvitationsView.as_view()),
    path("school/file", views.SchoolFileView.as_view()),
    path("school/removal", views.SchoolRemovalView.as_view()),
    path("school-invitations/<int:pk>", views.SchoolInvitationView.as_view()),
    path("school-teachers/<int:pk>", views.SchoolTeacherView.as_view()),
    path("school-teachers/<int:pk>/reset-code", views.ResetCodeView.as_view()),
    path("shared-recipes", views.SharedRecipesView.as_view()),
    path("shared-recipes/<int:pk>", views.SharedRecipeView.as_view()),
]
