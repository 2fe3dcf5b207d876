"""Count non-blank lines of tests against product code; generated files and data left out."""

import subprocess
from pathlib import Path

files = subprocess.run(["git", "ls-files"], capture_output=True, text=True, check=True).stdout
tests = code = 0
for name in files.split():
    path = Path(name)
    if path.suffix not in {".py", ".ts", ".tsx", ".scss"} or path.name == "schema.d.ts":
        continue
    lines = sum(1 for line in path.read_text(encoding="utf-8").splitlines() if line.strip())
    if name.startswith("tests/") or ".test." in name:
        tests += lines
    elif name.startswith(("src/", "frontend/src/")):
        code += lines
print(f"tests {tests}, product {code}: {tests / code:.2f}")
