from django import template

register = template.Library()


@register.filter
def hours(minutes):
    return f"{minutes // 60} h {minutes % 60:02} min"
