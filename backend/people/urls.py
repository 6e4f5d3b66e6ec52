from django.urls import path

from people import views

urlpatterns = [
    path("session", views.SessionView.as_view()),
    path("session/reset", views.ResetView.as_view()),
    path("session/sign-on", views.SignOnView.as_view()),
    path("session/password", views.PasswordView.as_view()),
    path("session/leave", views.AccountView.as_view()),
    path("signed-in", views.SignedInListView.as_view()),
    path("signed-in/<int:pk>", views.SignedInView.as_view()),
    path("teachers", views.SignUpView.as_view()),
    path("classes", views.ClassListView.as_view()),
    path("classes/<int:pk>/teams", views.ClassTeamsView.as_view()),
    path("classes/<int:pk>/team-list", views.TeamListView.as_view()),
    path("teams/<int:pk>", views.TeamView.as_view()),
    path("classes/<int:pk>/colleagues", views.ColleaguesView.as_view()),
    path("colleagues/<int:pk>", views.ColleagueView.as_view()),
    path("invitations/<int:pk>", views.InvitationView.as_view()),
    path("invited", views.InvitedView.as_view()),
]
