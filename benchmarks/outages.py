"""How long an edit waits when a process of the server is killed right before it.

    python benchmarks/outages.py [--times 3]

Starts the whole server with data of its own, kills one process after the other as ``tests/test_kills.py`` does, and sends an
edit again until it is answered, as the page does. The supervisor, which somebody else must watch over, is started again at
once, so that its figure is that of a whole start.
"""

from __future__ import annotations

import argparse
import random
import shutil
import signal
import sys
import tempfile
import time
import uuid
from collections import defaultdict
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from tests.serving import Server
from tests.test_kills import VICTIMS, kill


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.split("\n", 1)[0])
    parser.add_argument("--times", type=int, default=3)
    options = parser.parse_args()
    folder = Path(tempfile.mkdtemp(prefix="movrel-outages-"))
    server = Server(folder, workers=1)
    server.start()
    waited: dict[str, list[float]] = defaultdict(list)
    try:
        project = server.asked("/projects", {"name": "Killed"})["id"]
        body = {"path": "Plant.mo", "text": "model Plant parameter Real a = 0; end Plant;"}
        server.asked(f"/projects/{project}/files", body)
        address = f"/projects/{project}/models/Plant"
        seen = server.asked(address)
        chance = random.Random(1)
        for number in range(options.times * (len(VICTIMS) + 1)):
            victim = ("nothing", *VICTIMS)[number % (len(VICTIMS) + 1)]
            began = time.perf_counter()
            if victim == "supervisor":
                server.stop(signal.SIGKILL)
                server.start()
            elif victim != "nothing":
                kill(server, victim, chance)
            edit = {"do": "parameter", "name": "a", "text": str(number)}
            order = {"id": str(uuid.uuid4()), "revision": seen["revision"], "edit": edit}
            seen = server.asked(f"{address}/edits", order)
            waited[victim].append(time.perf_counter() - began)
            time.sleep(3.0)
        for victim, seconds in waited.items():
            print(f"{victim}: {', '.join(f'{s:.2f}' for s in seconds)} s")
    finally:
        server.end()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
