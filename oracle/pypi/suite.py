"""Runs a project's own tests and prints how each of them ended, by the file's name and the test's, sorted: that is the same wherever the
file stands. The arguments are pytest's; folders and files that are not there are left out."""
import os
import sys

import pytest


class Outcomes:
    def __init__(self):
        self.seen = {}

    def pytest_runtest_logreport(self, report):
        name = report.nodeid.rsplit("/", 1)[-1]
        if report.when == "call" or report.outcome != "passed":
            self.seen.setdefault(name, []).append(report.outcome)

    def pytest_collectreport(self, report):
        if report.failed:
            self.seen.setdefault(report.nodeid.rsplit("/", 1)[-1], []).append("not collected")


outcomes = Outcomes()
arguments = [a for a in sys.argv[1:] if a.startswith("-") or os.path.exists(a.split("::")[0])]
out, sys.stdout = sys.stdout, sys.stderr
pytest.main(["-q", "-p", "no:cacheprovider", "--tb=short", *arguments], plugins=[outcomes])
sys.stdout = out
totals = {}
for name in sorted(outcomes.seen):
    for outcome in sorted(outcomes.seen[name]):
        totals[outcome] = totals.get(outcome, 0) + 1
        print(name, outcome)
print(totals)
if not totals.get("passed"):
    sys.exit("no test passes")
