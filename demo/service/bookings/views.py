from django.shortcuts import get_object_or_404, render

from . import models


def listing(request):
    return render(request, "bookings/nights.html", {"nights": models.Night.objects.all()})


def one(request, pk):
    return render(request, "bookings/night.html", {"night": get_object_or_404(models.Night, pk=pk)})
