"""Plants slips in the arithmetic and the comparisons of the core, one at a time, and counts which the tests catch.

Not part of the checks: it takes hours for all, minutes for a sample. It needs its own extra:

    pip install -e '.[test,mutation]'
    python tests/mutation/run.py --sample 200 --seed 1

Each slip is planted in a copy of the sources; the tests of the package it is in run first. Survivors are printed.
"""

import argparse
import json
import random
import re
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PACKAGES = ("optics", "train", "readouts")
# A sign, a product for a quotient, a comparison: what a person slips in. Shifts and bit operators are no slips.
WANTED = re.compile(
    r"core/(ReplaceBinaryOperator_(Add_Sub|Sub_Add|Mul_Div|Div_Mul|Pow_Mul)"
    r"|ReplaceComparisonOperator_(Lt_GtE|LtE_Gt|Gt_LtE|GtE_Lt|Lt_LtE|Gt_GtE|LtE_Lt|GtE_Gt|Eq_NotEq|NotEq_Eq)"
    r"|ReplaceUnaryOperator_(USub_UAdd|Delete_USub)|ReplaceAndWithOr|ReplaceOrWithAnd)$"
)
CONFIG = """
[cosmic-ray]
module-path = [{modules}]
timeout = 150.0
excluded-modules = []
test-command = "{python} -m pytest -x -q -p no:cacheprovider -p no:randomly {tests}"

[cosmic-ray.distributor]
name = "local"
"""


def main() -> int:
    """Run; returns 0 when at least nine of ten slips were caught."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--packages", nargs="+", default=list(PACKAGES), choices=PACKAGES)
    parser.add_argument("--sample", type=int, default=0, help="so many slips, drawn at random; 0 for all")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    caught, survivors = 0, []
    for package in options.packages:
        share = options.sample // len(options.packages)
        with tempfile.TemporaryDirectory() as folder:
            found = _run(Path(folder), package, share, options.seed)
        caught += sum(killed for killed, _ in found)
        survivors += [words for killed, words in found if not killed]
        print(f"{package}: {sum(k for k, _ in found)} of {len(found)} caught", flush=True)
    tried = caught + len(survivors)
    print("\n".join(["", *survivors, "", f"{caught} of {tried} slips caught ({100 * caught / max(tried, 1):.0f} %)"]))
    return 0 if caught >= 0.9 * tried else 1


def _run(folder: Path, package: str, sample: int, seed: int) -> list[tuple[bool, str]]:
    """Plant slips in one package of a copy; returns for each whether it was caught, and where it is."""
    for name in ("src", "tests", "pyproject.toml", "docs", "README.md"):
        source = ROOT / name
        ignore = shutil.ignore_patterns("__pycache__", "*.png", "mutation")
        shutil.copytree(source, folder / name, ignore=ignore) if source.is_dir() else shutil.copy(source, folder / name)
    # The quickest first: the first failure ends a run.
    own = {"optics": "tests/readouts tests/optics", "train": "tests/train tests/readouts tests/parts"}
    tests = f"tests/comparison {own.get(package, 'tests/readouts tests/train')}"
    config, session = folder / "slips.toml", folder / "slips.sqlite"
    config.write_text(CONFIG.format(modules=f'"src/farrail/{package}"', python=sys.executable, tests=tests))
    _call(folder, "init", str(config), str(session))
    _draw(session, sample, seed)
    _call(folder, "exec", str(config), str(session))
    dump = subprocess.run(
        [sys.executable, "-m", "cosmic_ray.cli", "dump", str(session)],
        cwd=folder,
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    return [_told(json.loads(line)) for line in dump.splitlines()]


def _draw(session: Path, sample: int, seed: int) -> None:
    """Keep the slips wanted, of these a sample."""
    with sqlite3.connect(session) as data:
        rows = data.execute(
            "select job_id, operator_name, module_path, start_pos_row, start_pos_col from mutation_specs"
        ).fetchall()
        wanted = sorted(
            row[0] for row in rows if WANTED.match(row[1]) and not _marks_keywords(session.parent, *row[2:])
        )
        if sample:
            wanted = random.Random(seed).sample(wanted, min(sample, len(wanted)))
        keep = set(wanted)
        for job, *_ in rows:
            if job not in keep:
                data.execute("delete from mutation_specs where job_id = ?", (job,))
                data.execute("delete from work_items where job_id = ?", (job,))


def _marks_keywords(folder: Path, module: str, line: int, column: int) -> bool:
    """Whether the star there is no product but the mark before keyword arguments, or unpacks."""
    text = (folder / module).read_text().splitlines()[line - 1]
    return text[column] == "*" and text[:column].rstrip()[-1:] in ("", ",", "(", "[", "*")


def _told(entry: list[dict[str, object]]) -> tuple[bool, str]:
    item, result = entry
    mutation = item["mutations"][0]  # type: ignore[index]
    killed = result is not None and result.get("test_outcome") != "survived"
    diff = "" if result is None else str(result.get("diff", ""))
    lines = [line for line in diff.splitlines() if line[:1] in "+-" and line[:3] not in ("+++", "---")]
    return (
        killed,
        f"{mutation['module_path']}:{mutation['start_pos'][0]}  {'  ->  '.join(x[1:].strip() for x in lines)}",
    )


def _call(folder: Path, *arguments: str) -> None:
    subprocess.run([sys.executable, "-m", "cosmic_ray.cli", *arguments], cwd=folder, check=True)


if __name__ == "__main__":
    sys.exit(main())
