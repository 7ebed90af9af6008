from django.urls import include, path

import telescopes.views

urlpatterns = [
    path("", telescopes.views.front, name="front"),
    path("telescopes/", telescopes.views.listing, name="telescopes"),
    path("nights/", include("bookings.urls")),
]
