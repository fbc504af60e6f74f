"""The Debian package: built by its one command, installed in a clean system, started there, and removed."""

import fcntl
import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def package(tmp_path_factory: pytest.TempPathFactory) -> Path:
    if shutil.which("dpkg-deb") is None:
        pytest.skip("no dpkg-deb: not a Debian")
    # Tests run side by side share the folder above their own: who comes second finds it built.
    base = tmp_path_factory.getbasetemp()
    shared = base.parent if "PYTEST_XDIST_WORKER" in os.environ else base
    out = shared / "deb"
    with (shared / "deb.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not list(out.glob("far-rail_*.deb")):
            command = [sys.executable, str(ROOT / "debian" / "build.py"), "--out", str(out)]
            told = subprocess.run(command, capture_output=True, text=True)
            assert told.returncode == 0, told.stdout + told.stderr
    (found,) = out.glob("far-rail_*.deb")
    return found


@pytest.mark.timeout(400)
def test_the_package_carries_what_a_desktop_looks_for(package: Path) -> None:
    told = subprocess.run(["dpkg-deb", "--contents", str(package)], capture_output=True, text=True, check=True).stdout
    places = {line.split()[5] for line in told.splitlines()}
    for place in (
        "usr/bin/far-rail", "usr/share/applications/org.farrail.FarRail.desktop", "usr/share/man/man1/far-rail.1.gz",
        "usr/share/metainfo/org.farrail.FarRail.metainfo.xml", "usr/share/mime/packages/org.farrail.FarRail.xml",
        "usr/share/bash-completion/completions/far-rail", "usr/share/doc/far-rail/copyright",
        "usr/lib/far-rail/farrail/assets/fonts/Inter-Regular.otf",
    ):  # fmt: skip
        assert f"./{place}" in places, place
    assert all(line.split()[1] == "root/root" for line in told.splitlines())
    fields = subprocess.run(["dpkg-deb", "--info", str(package)], capture_output=True, text=True, check=True).stdout
    assert "libxcb-cursor0" in fields
    # It stays a download one can wait for: Qt's web, quick and design parts are not in it.
    assert not [place for place in places if "QtQml" in place or "WebEngine" in place]
    assert package.stat().st_size < 200e6


@pytest.fixture(scope="module")
def clean_system(package: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    """A Debian with nothing on it but apt."""
    if os.getuid() != 0 or shutil.which("mmdebstrap") is None or sys.version_info[:2] != (3, 11):
        pytest.skip("a clean system takes root, mmdebstrap, and the Python of Debian 12")
    folder = tmp_path_factory.mktemp("system")
    command = [
        "mmdebstrap", "--mode=root", "--variant=apt", "--skip=cleanup/apt/lists",
        '--aptopt=APT::Install-Recommends "false"', "bookworm", str(folder),
    ]  # fmt: skip
    told = subprocess.run(command, capture_output=True, text=True)
    if told.returncode != 0:
        pytest.skip(f"no clean system could be made: {told.stderr[-200:]}")
    yield folder
    shutil.rmtree(folder, ignore_errors=True)


def inside(system: Path, *words: str, **more: str) -> subprocess.CompletedProcess[str]:
    environment = {
        "PATH": "/usr/sbin:/usr/bin:/sbin:/bin",
        "HOME": "/root",
        "DEBIAN_FRONTEND": "noninteractive",
        **more,
    }
    return subprocess.run(["chroot", str(system), *words], capture_output=True, text=True, env=environment, timeout=300)


@pytest.mark.timeout(900)
def test_it_installs_starts_and_goes_without_a_trace(package: Path, clean_system: Path) -> None:
    shutil.copy(package, clean_system / "tmp" / package.name)
    told = inside(clean_system, "apt-get", "install", "-y", "-qq", f"/tmp/{package.name}")
    assert told.returncode == 0, told.stderr[-800:]
    assert inside(clean_system, "far-rail", "--version").stdout.startswith("Far Rail ")
    assert inside(clean_system, "far-rail", "demo", "--save", "/tmp/d.farrail.json").returncode == 0
    plan = inside(clean_system, "far-rail", "plan", "/tmp/d.farrail.json", "--train", "witch-broom-short")
    assert plan.returncode == 0, plan.stderr
    sheet = inside(
        clean_system, "far-rail", "sheet", "/tmp/d.farrail.json", "/tmp/s.pdf", "--train", "witch-broom",
        QT_QPA_PLATFORM="offscreen",
    )  # fmt: skip
    assert sheet.returncode == 0, sheet.stderr
    # The window opens, paints, and says that it is.
    window = inside(clean_system, "far-rail", "demo", QT_QPA_PLATFORM="offscreen", FAR_RAIL_START_PROBE="1")
    assert window.stdout.startswith("usable "), window.stdout + window.stderr
    # No font of the system is needed, and every library the X11 window wants has come with it.
    missing = inside(
        clean_system, "sh", "-c",
        "cd /usr/lib/far-rail/PySide6 && ldd Qt/plugins/platforms/libqxcb.so *.so | grep 'not found'",
    )  # fmt: skip
    assert missing.stdout == ""
    assert inside(clean_system, "apt-get", "purge", "-y", "-qq", "far-rail").returncode == 0
    left = inside(clean_system, "sh", "-c", "find /usr /etc /opt -iname '*far-rail*' -o -iname '*farrail*'")
    assert left.stdout == ""
