"""Runs commands as processes of their own, which begin with what the tests have loaded: in a tenth of the time."""

from __future__ import annotations

import os
import runpy
import shlex
import signal
import subprocess
import sys
import tempfile
import traceback
import warnings
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

PROGRAM = Path(sys.executable).parent / "emberwound"
LONGEST = 300
"""Seconds after which a command is ended."""


def run_command(
    arguments: Sequence[str],
    folder: Path,
    env: Mapping[str, str] | None = None,
    *,
    strict: bool = False,
    afresh: bool = False,
) -> subprocess.CompletedProcess[str]:
    """Run `emberwound ...` or `python FILE ...` in a folder; what is `strict` takes a warning for an error.

    It is forked where that can be done. Any other command, and one run `afresh`, is started as it is.
    """
    env = {**os.environ, **(env or {})}
    name = Path(arguments[0]).name
    is_script = name.startswith("python") and len(arguments) > 1 and arguments[1].endswith(".py")
    if afresh or not hasattr(os, "fork") or not (name == "emberwound" or is_script):
        env = {**env, "PYTHONWARNINGS": "error"} if strict else env
        return subprocess.run(
            list(arguments), cwd=folder, env=env, capture_output=True, text=True, encoding="utf-8", check=False
        )
    words = ["emberwound", *arguments[1:]] if name == "emberwound" else list(arguments[1:])
    import emberwound.cli.main
    import emberwound.draw  # noqa: F401

    with tempfile.TemporaryFile() as out, tempfile.TemporaryFile() as err:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # of forking beside the threads of the test runner
            child = os.fork()
        if child == 0:
            _become(words, folder, env, out, err, strict=strict)
        _, status = os.waitpid(child, 0)
        said = [_read(each) for each in (out, err)]
    return subprocess.CompletedProcess(list(arguments), os.waitstatus_to_exitcode(status), *said)


def run_line(line: str, folder: Path, env: Mapping[str, str] | None = None) -> subprocess.CompletedProcess[str]:
    """Run a command line without pipes."""
    return run_command(shlex.split(line), folder, env)


def _read(file: BinaryIO) -> str:
    file.seek(0)
    return file.read().decode(errors="replace")


def _become(
    words: list[str], folder: Path, env: Mapping[str, str], out: BinaryIO, err: BinaryIO, *, strict: bool
) -> None:
    """Let this process be the command, to its end."""
    code = 1
    try:
        signal.alarm(LONGEST)
        os.environ.clear()
        os.environ.update(env)
        os.chdir(folder)
        for stream, number in ((out, 1), (err, 2)):
            os.dup2(stream.fileno(), number)
        os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
        sys.stdin = open(0, encoding="utf-8", closefd=False)  # noqa: SIM115 (to the end of the process)
        sys.stdout = open(1, "w", encoding="utf-8", closefd=False)  # noqa: SIM115
        sys.stderr = open(2, "w", encoding="utf-8", closefd=False)  # noqa: SIM115
        warnings.resetwarnings()
        if strict:
            warnings.simplefilter("error")
        sys.argv = words
        code = _run(words)
    except BaseException:  # noqa: BLE001 (nothing may go on in the test's place)
        traceback.print_exc()
    finally:
        for each in (sys.stdout, sys.stderr):
            try:
                each.flush()
            except (OSError, ValueError):
                code = code or 1
        os._exit(code)


def _run(words: list[str]) -> int:
    try:
        if words[0].endswith(".py"):
            sys.path.insert(0, str(Path.cwd()))
            runpy.run_path(words[0], run_name="__main__")
        else:
            from emberwound.cli.main import main

            main()
    except SystemExit as leaving:
        return leaving.code if isinstance(leaving.code, int) else int(leaving.code is not None)
    return 0
