from django.urls import path

from bookings import views

urlpatterns = [
    path("", views.listing, name="nights"),
    path("<int:pk>/", views.one, name="night"),
]
