class Darkness:
    """Says on every page how dark it is."""

    def __init__(self, answer):
        self.answer = answer

    def __call__(self, request):
        response = self.answer(request)
        response["X-Darkness"] = "astronomical"
        return response
