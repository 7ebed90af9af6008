import logging


class Quiet(logging.Filter):
    def filter(self, record):
        return record.levelno >= logging.WARNING
