def open_now(request):
    return {"open_now": "The dome is open."}
