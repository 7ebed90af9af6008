#!/usr/bin/env python
"""Runs the commands of the desk."""
import os
import sys


def main():
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hilltop.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)


if __name__ == "__main__":
    main()
