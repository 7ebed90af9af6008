from django.shortcuts import render

from .models import Telescope


def front(request):
    from bookings.models import Night

    return render(request, "telescopes/front.html", {"count": Night.objects.count()})


def listing(request):
    return render(request, "telescopes/list.html", {"telescopes": Telescope.objects.all()})
