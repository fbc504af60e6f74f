"""The Debian package: built by its one command, installed in a clean system, started there, and removed."""

import os
import shutil
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]


def built(out: Path) -> Path:
    """Build the package with its one command."""
    command = [sys.executable, str(ROOT / "debian" / "build.py"), "--out", str(out)]
    told = subprocess.run(command, capture_output=True, text=True)
    assert told.returncode == 0, told.stdout + told.stderr
    (found,) = out.glob("far-rail_*.deb")
    return found


def carries_what_a_desktop_looks_for(package: Path) -> None:
    told = subprocess.run(["dpkg-deb", "--contents", str(package)], capture_output=True, text=True, check=True).stdout
    places = {line.split()[5] for line in told.splitlines()}
    for place in (
        "usr/bin/far-rail", "usr/share/applications/org.farrail.FarRail.desktop", "usr/share/man/man1/far-rail.1.gz",
        "usr/share/metainfo/org.farrail.FarRail.metainfo.xml", "usr/share/mime/packages/org.farrail.FarRail.xml",
        "usr/share/bash-completion/completions/far-rail", "usr/share/doc/far-rail/copyright",
        "usr/lib/far-rail/farrail/assets/fonts/Inter-Regular.otf",
    ):  # fmt: skip
        assert f"./{place}" in places, place
    papers = subprocess.run(
        f"dpkg-deb --fsys-tarfile {package} | tar -xO ./usr/share/doc/far-rail/copyright", shell=True,
        capture_output=True, text=True, check=True,
    ).stdout  # fmt: skip
    for said in ("PySide6/*", "LGPL-3.0-only", "With LibRaw: reads raw files; LGPL-2.1", "usr/lib/far-rail/astropy/*"):
        assert said in papers, said
    assert all(line.split()[1] == "root/root" for line in told.splitlines())
    fields = subprocess.run(["dpkg-deb", "--info", str(package)], capture_output=True, text=True, check=True).stdout
    assert "libxcb-cursor0" in fields
    # It stays a download one can wait for: Qt's web, quick and design parts are not in it.
    assert not [place for place in places if "QtQml" in place or "WebEngine" in place]
    assert package.stat().st_size < 200e6


def clean_system(folder: Path) -> str:
    """Make a Debian with nothing on it but apt; returns why there is none, "" where there is."""
    if os.getuid() != 0 or shutil.which("mmdebstrap") is None or sys.version_info[:2] != (3, 11):
        return "a clean system takes root, mmdebstrap, and the Python of Debian 12"
    command = [
        "mmdebstrap", "--mode=root", "--variant=apt", "--skip=cleanup/apt/lists",
        '--aptopt=APT::Install-Recommends "false"', "bookworm", str(folder),
    ]  # fmt: skip
    told = subprocess.run(command, capture_output=True, text=True)
    return "" if told.returncode == 0 else f"no clean system could be made: {told.stderr[-200:]}"


def inside(system: Path, *words: str, **more: str) -> subprocess.CompletedProcess[str]:
    environment = {
        "PATH": "/usr/sbin:/usr/bin:/sbin:/bin",
        "HOME": "/root",
        "DEBIAN_FRONTEND": "noninteractive",
        **more,
    }
    return subprocess.run(["chroot", str(system), *words], capture_output=True, text=True, env=environment, timeout=300)


@pytest.mark.timeout(900)
@pytest.mark.skipif(shutil.which("dpkg-deb") is None, reason="no dpkg-deb: not a Debian")
def test_the_package_installs_starts_and_goes_without_a_trace(tmp_path: Path) -> None:
    # The system takes the net, the package takes the processor: one is made beside the other.
    system = tmp_path / "system"
    with ThreadPoolExecutor(1) as beside:
        lacking = beside.submit(clean_system, system)
        package = built(tmp_path / "deb")
        carries_what_a_desktop_looks_for(package)
    if lacking.result():
        pytest.skip(lacking.result())
    try:
        installs_starts_and_goes(package, system)
    finally:
        shutil.rmtree(system, ignore_errors=True)


def installs_starts_and_goes(package: Path, system: Path) -> None:
    shutil.copy(package, system / "tmp" / package.name)
    told = inside(system, "apt-get", "install", "-y", "-qq", f"/tmp/{package.name}")
    assert told.returncode == 0, told.stderr[-800:]
    assert inside(system, "far-rail", "--version").stdout.startswith("Far Rail ")
    assert inside(system, "far-rail", "demo", "--save", "/tmp/d.farrail.json").returncode == 0
    plan = inside(system, "far-rail", "plan", "/tmp/d.farrail.json", "--train", "witch-broom-short")
    assert plan.returncode == 0, plan.stderr
    sheet = inside(
        system, "far-rail", "sheet", "/tmp/d.farrail.json", "/tmp/s.pdf", "--train", "witch-broom",
        QT_QPA_PLATFORM="offscreen",
    )  # fmt: skip
    assert sheet.returncode == 0, sheet.stderr
    # The window opens, paints, and says that it is.
    window = inside(system, "far-rail", "demo", QT_QPA_PLATFORM="offscreen", FAR_RAIL_START_PROBE="1")
    assert window.stdout.startswith("usable "), window.stdout + window.stderr
    # No font of the system is needed, and every library the X11 window wants has come with it.
    missing = inside(
        system, "sh", "-c",
        "cd /usr/lib/far-rail/PySide6 && ldd Qt/plugins/platforms/libqxcb.so *.so | grep 'not found'",
    )  # fmt: skip
    assert missing.stdout == ""
    assert inside(system, "apt-get", "purge", "-y", "-qq", "far-rail").returncode == 0
    left = inside(system, "sh", "-c", "find /usr /etc /opt -iname '*far-rail*' -o -iname '*farrail*'")
    assert left.stdout == ""
