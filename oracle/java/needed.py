"""Takes each dependency out of each build below a folder, one after the other, and compiles: without it that must fail. The argument is a
folder that builds. It needs the artifacts at hand, since it asks for none. By hand:

    oracle/java/needed.py FOLDER
"""
import os
import re
import shutil
import subprocess
import sys

folder = sys.argv[1]


def compiles():
    for at, folders, _ in os.walk(folder):
        if "target" in folders:
            shutil.rmtree(os.path.join(at, "target"))
    return subprocess.run(["mvn", "-B", "-q", "-ntp", "-o", "test-compile"], cwd=folder, capture_output=True).returncode == 0


if not compiles():
    sys.exit("it does not compile as it is")
count = 0
for at, _, files in os.walk(folder):
    if "pom.xml" not in files or "/target" in at or "/src/" in at:
        continue
    pom = os.path.join(at, "pom.xml")
    text = open(pom).read()
    managed = re.search(r"<dependencyManagement>.*?</dependencyManagement>", text, re.S)
    for m in re.finditer(r" *<dependency>.*?</dependency>\n", text, re.S):
        if managed and managed.start() < m.start() < managed.end() or "<modules>" in text:
            continue
        open(pom, "w").write(text[:m.start()] + text[m.end():])
        name = re.search(r"<artifactId>(.*?)</artifactId>", m[0])[1]
        if compiles():
            print("not needed:", pom, name)
        count += 1
    open(pom, "w").write(text)
print(count, "dependencies taken out")
