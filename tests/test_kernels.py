"""Kernels: interpreted until it pays to compile them, to the same bits, and kept in a folder of any sort."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import pytest

import emberwound as ew
from emberwound.geometry import kernel_folder

HERE = Path(__file__).parent

pytestmark = pytest.mark.skipif(os.environ.get("NUMBA_DISABLE_JIT") == "1", reason="it is about compiling")

BOUTS = """
import hashlib, sys
sys.path.insert(0, sys.argv[1])
from importlib.resources import files
import emberwound as ew
from emberwound.geometry import jit
from test_anything import check
{way}
text = files("emberwound.demo").joinpath("saltglass.toml").read_text(encoding="utf-8")
rules = ew.Rulebook.parse(text, "saltglass.toml")
told = [ew.run(rules, bout) for bout in ("crossing", "vent")] + [check(seed, 20) for seed in range(700, 700 + {seeds})]
for chronicle in told:
    print(hashlib.sha256(chronicle.to_bytes()).hexdigest())
{then}
"""

FALL = "from emberwound.geometry.flight import fall_time; print(fall_time(1.0, 0.0, 9.81, 0.0), fall_time.is_ready)"
AT_ONCE = "from emberwound.geometry.jit import TIERS; TIERS.is_patient = False; " + FALL


def python(code: str, folder: Path | str | None = None) -> tuple[str, str]:
    """What a program prints on standard output and standard error, with its kernels in a folder."""
    env = {**os.environ} if folder is None else {**os.environ, "NUMBA_CACHE_DIR": str(folder)}
    done = subprocess.run([sys.executable, "-c", code, HERE], env=env, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    return done.stdout.strip(), done.stderr


@pytest.mark.parametrize("seeds", [3, pytest.param(12, marks=pytest.mark.long)])
def test_interpreted_compiled_and_changed_on_the_way_bouts_are_the_same(seeds: int, tmp_path: Path) -> None:
    """The last one loads what others compiled, each kernel in another tick."""
    never = BOUTS.format(seeds=seeds, way="ew.allow_compiling(allowed=False)", then="assert 'numba' not in sys.modules")
    interpreted = python(never, tmp_path / "none")[0]
    then = "assert jit.TIERS.seconds == 0, 'all that these bouts need was prepared'"
    prepared = python(BOUTS.format(seeds=seeds, way="ew.prepare()", then=then))[0]
    way = "jit.LOAD_AFTER = jit.WORTH_LOADING = 0.0"
    then = "assert 5 < sum(each.is_ready for each in jit.TIERS.kernels) and jit.TIERS.seconds > 0"
    on_the_way = python(BOUTS.format(seeds=seeds, way=way, then=then))[0]
    assert len(interpreted.split()) == 2 + seeds
    assert interpreted == prepared == on_the_way


def test_a_kernel_is_compiled_when_it_cost_enough_and_the_log_says_so(tmp_path: Path) -> None:
    worth = "from emberwound.geometry import jit; jit.LOAD_AFTER = jit.WORTH_LOADING = jit.COMPILE_AFTER = 0.0; "
    stdout, stderr = python(f"{worth}{FALL}; print(fall_time(1.0, 0.0, 9.81, 0.0), fall_time.is_ready)", tmp_path)
    first, second = stdout.splitlines()
    assert (first.split()[1], second.split()[1]) == ("False", "True")
    assert first.split()[0] == second.split()[0]
    assert stderr.count("compiling kernels, some seconds each and once on this machine; `emberwound prepare`") == 1
    forbidden = f"import emberwound as ew; ew.allow_compiling(allowed=False); {worth}{FALL}; print(fall_time.is_ready)"
    assert python(forbidden, tmp_path)[0].endswith("False")


def test_what_cannot_be_asked_of_the_kernels_is_refused() -> None:
    wrong: Any = 5
    with pytest.raises(ew.BoutError, match="progress: 5; allowed: a function of two whole numbers"):
        ew.prepare(wrong)
    with pytest.raises(ew.BoutError, match="allowed: 5; allowed: True or False"):
        ew.allow_compiling(allowed=wrong)
    told: list[tuple[int, int]] = []
    ew.prepare(lambda done, whole: told.append((done, whole)))
    assert told[-1][0] == told[-1][1] >= 100
    assert [done for done, _ in told] == sorted(done for done, _ in told)


def test_a_broken_cache_is_an_empty_one_and_a_full_disk_no_reason_to_stop(tmp_path: Path) -> None:
    full = """
import numba.core.caching as caching, errno
def no(*_): raise OSError(errno.ENOSPC, "No space left on device")
caching.IndexDataCacheFile._save_data = no
"""
    stdout, stderr = python(full + AT_ONCE, tmp_path)
    assert "compiled kernels cannot be kept ([Errno 28] No space left on device)" in stderr
    assert python(AT_ONCE, tmp_path) == (stdout, "")
    for sort in ("nbi", "nbc"):
        files = list(tmp_path.rglob(f"*.{sort}"))
        assert files
        for content in (b"", b"\x80\x04 torn"):
            for file in files:
                file.write_bytes(content)
            assert python(AT_ONCE, tmp_path) == (stdout, "")
            assert python(AT_ONCE, tmp_path) == (stdout, "")


def test_without_a_folder_that_can_be_written_kernels_work_and_say_so_once(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("no folder")
    stdout, stderr = python(AT_ONCE, tmp_path / "file")
    assert stderr.count("no folder for compiled kernels can be written: set NUMBA_CACHE_DIR to one") == 1
    python(AT_ONCE, tmp_path / "kept")
    read_only = "from emberwound.geometry import kernel_folder; kernel_folder._can_be_written = lambda _: False; "
    assert python(read_only + AT_ONCE, tmp_path / "kept") == (stdout, ""), "what lies in it is used"


def test_kernels_of_older_sources_beside_the_sources_are_taken_away(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(kernel_folder, "HERE", tmp_path)
    monkeypatch.delenv("NUMBA_CACHE_DIR")
    (tmp_path / "flight.py").write_text("x = 1\n", encoding="utf-8")
    found = kernel_folder.kernel_folder.__wrapped__()
    (tmp_path / "flight.py").write_text("x = 2\n", encoding="utf-8")
    newer = kernel_folder.kernel_folder.__wrapped__()
    assert found is not None and newer is not None and found != newer
    assert list((tmp_path / "__pycache__").iterdir()) == [newer]


def test_who_has_no_home_and_no_place_beside_the_sources_has_no_folder(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def homeless(_path: Path) -> Path:
        raise RuntimeError("Could not determine home directory.")

    (tmp_path / "__pycache__").write_text("no folder")
    monkeypatch.setattr(kernel_folder, "HERE", tmp_path)
    monkeypatch.setattr(Path, "expanduser", homeless)
    for name in ("NUMBA_CACHE_DIR", "XDG_CACHE_HOME"):
        monkeypatch.delenv(name, raising=False)
    assert kernel_folder.kernel_folder.__wrapped__() is None


def test_processes_that_compile_at_once_or_are_killed_meanwhile_harm_nobody(tmp_path: Path) -> None:
    code = "import emberwound.bout.hits.contacts as c; from emberwound.geometry.contact import note_contact; " + AT_ONCE
    command = [sys.executable, "-c", code]
    env = {**os.environ, "NUMBA_CACHE_DIR": str(tmp_path)}
    killed = subprocess.Popen(command, env=env, stdout=subprocess.DEVNULL)
    while not list(tmp_path.rglob("*.nb?")) and killed.poll() is None:
        time.sleep(0.001)
    killed.kill()
    killed.wait()
    both = [subprocess.Popen(command, env=env, stdout=subprocess.PIPE, text=True) for _ in range(2)]
    told = {process.communicate()[0].strip() for process in both}
    assert [process.returncode for process in both] == [0, 0]
    assert told == {python(AT_ONCE, tmp_path)[0]}
