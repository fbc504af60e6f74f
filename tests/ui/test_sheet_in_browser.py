"""The page for a phone in a real browser, without a network: it draws, complains of nothing, and keeps its ticks."""

import re
import shutil
import subprocess
from pathlib import Path

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui.build_sheet import write_build_sheet
from farrail.workbook.store import write_file

BROWSER = shutil.which("chromium") or shutil.which("chromium-browser")
TICK = "<script>document.querySelectorAll('input[type=checkbox]')[3].click();</script>"
DARK = "<script>document.getElementById('dark').click();</script>"
TELL = (
    "<script>document.title = [...document.querySelectorAll('input:checked')].map(b => b.dataset.step).join(' ') + '|'"
    " + document.documentElement.className + '|' + getComputedStyle(document.body).backgroundColor + '|'"
    " + document.querySelector('.drawing svg').getBoundingClientRect().width;</script>"
)

pytestmark = pytest.mark.skipif(
    BROWSER is None, reason="there is no Chromium here; continuous integration installs one"
)


def browse(page: Path, profile: Path) -> tuple[str, str]:
    """Return a page's document after its scripts have run, and what the browser's console was shown."""
    assert BROWSER is not None
    command = [
        BROWSER, "--headless=new", "--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking",
        "--disable-component-update", "--disable-sync", "--proxy-server=127.0.0.1:9", "--enable-logging=stderr",
        f"--user-data-dir={profile}", "--window-size=420,900", "--virtual-time-budget=3000", "--dump-dom",
        page.as_uri(),
    ]  # fmt: skip
    run = subprocess.run(command, capture_output=True, text=True, timeout=90, check=True)
    return run.stdout, "\n".join(line for line in run.stderr.splitlines() if "CONSOLE" in line)


def test_the_page_keeps_its_ticks_in_a_browser_without_a_network(tmp_path: Path) -> None:
    book, page, profile = tmp_path / "demo.farrail.json", tmp_path / "sheet.html", tmp_path / "profile"
    write_file(book, demo_workbook(), None)
    write_build_sheet(book, "sea-stacks", page)
    whole = page.read_text(encoding="utf-8")
    addresses = set(re.findall(r"https?://[^\s\"'<>]+", re.sub(r"xmlns(?::\w+)?=\"[^\"]*\"", "", whole)))
    assert not addresses, "the page asks for something beside itself"

    def with_script(script: str) -> str:
        page.write_text(whole.replace("</body>", f"{script}</body>"), encoding="utf-8")
        document, console = browse(page, profile)
        assert console == ""
        title = re.search(r"<title>(.*?)</title>", document)
        assert title is not None
        return title[1]

    ticked, look, paper, wide = with_script(TELL).split("|")
    assert ticked == ""
    assert look == ""
    assert float(wide) > 300.0
    with_script(TICK + DARK)
    again = with_script(TELL).split("|")
    assert len(again[0].split()) == 1
    assert again[1] == "dark"
    assert again[2] != paper
