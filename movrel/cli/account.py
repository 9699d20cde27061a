"""The account under which a server that root has started does its work."""

from __future__ import annotations

import os
import pwd
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path

from movrel.errors import MovrelError

#: Where the name of the account may be given, and those that are taken otherwise, the first that exists.
VARIABLE, USUAL = "MOVREL_USER", ("movrel", "nobody")


@dataclass(frozen=True, slots=True)
class Account:
    """An account of this machine, with a folder of its own for caches."""

    name: str
    user: int
    group: int
    cache: Path

    @property
    def environment(self) -> dict[str, str]:
        """What its processes are to find in the place of root's own folders."""
        return {"HOME": str(self.cache), "XDG_CACHE_HOME": str(self.cache), "USER": self.name}


def lesser_account(data: Path) -> Account | None:
    """The account for the processes that answer and compute; None unless root asks.

    Says so, and gives None, where the account cannot read the program. Raises :class:`MovrelError` for an account
    that does not exist.
    """
    if os.geteuid() != 0:
        return None
    given = os.environ.get(VARIABLE)
    entries = [entry for entry in map(_entry, (given,) if given else USUAL) if entry is not None]
    if not entries:
        raise MovrelError(
            f"there is no account '{given or USUAL[0]}' on this machine.",
            hint=f"Make it, or name another one in {VARIABLE}.",
        )
    entry = entries[0]
    cache = data / "cache"
    cache.mkdir(mode=0o700, parents=True, exist_ok=True)
    os.chown(cache, entry.pw_uid, entry.pw_gid)
    account = Account(entry.pw_name, entry.pw_uid, entry.pw_gid, cache)
    if not _can_work(account):
        print(
            f"Movrel works as root: the account '{account.name}' cannot read the program or {data}.",
            file=sys.stderr,
            flush=True,
        )
        return None
    return account


def _entry(name: str) -> pwd.struct_passwd | None:
    try:
        return pwd.getpwnam(name)
    except KeyError:
        return None


def _can_work(account: Account) -> bool:
    """Whether it can run this interpreter with this program, and write to its folder."""
    words = "import sys, tempfile, movrel.errors, peewee; tempfile.TemporaryFile(dir=sys.argv[1]).close()"
    try:
        done = subprocess.run(
            [sys.executable, "-c", words, str(account.cache)], user=account.user, group=account.group, extra_groups=[],
            env=os.environ | account.environment, capture_output=True, check=False, timeout=60,
        )  # fmt: skip
    except (OSError, subprocess.TimeoutExpired):
        return False
    return done.returncode == 0
