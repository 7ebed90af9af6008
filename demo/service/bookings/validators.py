from django.core.exceptions import ValidationError


def whole_slot(value):
    if value % 30:
        raise ValidationError("a slot is half an hour")
