"""The house's own rules, and that breaking one is noticed."""

import ast
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PACKAGE = ROOT / "src" / "farrail"
MODULES = sorted(PACKAGE.rglob("*.py"))


def lint_imports(source: Path) -> subprocess.CompletedProcess[str]:
    config = ROOT / "pyproject.toml"
    command = [sys.executable, "-c", "from importlinter.cli import lint_imports_command as c; c()"]
    command += ["--config", str(config), "--no-cache"]
    env = {**os.environ, "PYTHONPATH": str(source)}
    return subprocess.run(command, cwd=source, env=env, capture_output=True, text=True)


def test_imports_keep_the_contracts() -> None:
    run = lint_imports(ROOT / "src")
    assert run.returncode == 0, run.stdout
    assert "3 kept, 0 broken" in run.stdout


@pytest.mark.parametrize(
    ("module", "line", "contract"),
    [
        ("optics/plates.py", "import farrail.train.layout", "Data flows one way"),
        ("readouts/light/model.py", "import PySide6.QtCore", "Nothing below the interface"),
    ],
)
def test_a_planted_violation_is_caught(tmp_path: Path, module: str, line: str, contract: str) -> None:
    shutil.copytree(PACKAGE, tmp_path / "farrail", ignore=shutil.ignore_patterns("__pycache__", "fonts"))
    planted = tmp_path / "farrail" / module
    planted.write_text(f"{planted.read_text()}\n{line}\n")
    run = lint_imports(tmp_path)
    assert run.returncode == 1
    assert any(contract in text and "BROKEN" in text for text in run.stdout.splitlines()), run.stdout


def imports_of(path: Path) -> set[str]:
    """Return the modules of ours a file imports anywhere in it, also for types alone."""
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {name.name for name in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {node.module, *(f"{node.module}.{name.name}" for name in node.names)}
    return {name for name in found if name.startswith("farrail")}


def module_of(path: Path) -> str:
    return ".".join(path.relative_to(PACKAGE.parent).with_suffix("").parts).removesuffix(".__init__")


def test_no_file_imports_itself_by_way_of_others() -> None:
    modules = {module_of(path): imports_of(path) for path in MODULES}
    after = {name: {other for other in found if other in modules and other != name} for name, found in modules.items()}
    # What imports nothing that is left is taken away, again and again; what remains goes in circles.
    while free := {name for name, found in after.items() if not found}:
        after = {name: found - free for name, found in after.items() if name not in free}
    reached = {name: found for name, found in after.items() if any(name in others for others in after.values())}
    assert not reached


def test_files_stay_small_enough_to_hold_in_the_head() -> None:
    rule = re.search(r"never past (\d+); classes never past (\d+)", (ROOT / "CONTRIBUTING.md").read_text())
    assert rule is not None
    most, longest = int(rule[1]), int(rule[2])
    too_long = [f"{path}: {n} lines" for path in MODULES if (n := path.read_text().count("\n")) > most]
    for path in MODULES:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ClassDef) and (node.end_lineno or 0) - node.lineno > longest:
                too_long.append(f"{path}: class {node.name}")
    assert not too_long


def test_nothing_is_called_utils() -> None:
    assert not [p for p in MODULES if p.stem in ("utils", "helpers", "manager", "misc")]


def test_pages_name_every_package() -> None:
    page = (ROOT / "docs" / "architecture.md").read_text()
    for folder in (p.parent for p in PACKAGE.glob("*/__init__.py")):
        assert f"`{folder.name}`" in page, folder.name


def test_readme_links_every_picture() -> None:
    readme = (ROOT / "README.md").read_text()
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    assert 5 <= len(pictures) < 20
    for picture in pictures:
        assert f"docs/screenshots/{picture.name}" in readme


# No matter what starts work beside the interface, in Python or in Qt.
STARTERS = re.compile(
    r"\b(threading\.Thread|QThread|QThreadPool|QtConcurrent|ThreadPoolExecutor|ProcessPoolExecutor)\b"
)


def test_only_background_task_starts_a_thread() -> None:
    """An answer that does not know its question is shown when it no longer is one."""
    found = []
    for path in MODULES:
        text = path.read_text()
        named = [name.name for node in ast.walk(ast.parse(text)) if isinstance(node, ast.ImportFrom)
                 and node.module in ("threading", "_thread", "concurrent.futures", "multiprocessing")
                 for name in node.names]  # fmt: skip
        if STARTERS.search(text) or {"Thread", "start_new_thread", "Timer", "Process"} & set(named):
            found.append(path.relative_to(PACKAGE).as_posix())
    assert found == ["ui/background_task.py"]
