from django.urls import path

from camera import bench_views, count_views, lens_views, motion_views, views

urlpatterns = [
    path("designs/<int:pk>/picture", views.PictureView.as_view()),
    path("designs/<int:pk>/picture-size", views.PictureSizeView.as_view()),
    path("designs/<int:pk>/photo-readings", views.PhotoReadingsView.as_view()),
    path("trials/<uuid:pk>/first-picture", motion_views.FirstPictureView.as_view()),
    path("trials/<uuid:pk>/follow", motion_views.FollowView.as_view()),
    path("trials/<uuid:pk>/measured-picture", bench_views.BenchPictureView.as_view()),
    path("trials/<uuid:pk>/loose-picture", count_views.LoosePictureView.as_view()),
    path("trials/<uuid:pk>/recount", count_views.RecountView.as_view()),
    path("trials/<uuid:pk>/counted-picture", count_views.CountedPictureView.as_view()),
    path("card-sets", views.CardSetsView.as_view()),
    path("card-sets/<int:number>", views.CardSetView.as_view()),
    path("lens-pictures", lens_views.LensPictureView.as_view()),
    path("tablets/<uuid:tablet>/lenses", lens_views.TabletLensesView.as_view()),
    path("stand-in-pictures/<slug:key>", views.StandInView.as_view()),
]
