"""`python -m devices`: every stand-in on a port of its own on loopback; says in a file where they are."""

from __future__ import annotations

import argparse
import asyncio
import json
import time
from collections.abc import Awaitable, Callable
from contextlib import suppress
from pathlib import Path
from typing import Final

from devices.clock import Clock
from devices.world import DEVICES, World
from jalebi_core.formats.device_lines import LONGEST_LINE, write_hello, write_shown
from jalebi_core.model.errors import DeviceError

_EVERY_S: Final = {"scale": 0.2, "fine-scale": 0.2, "probe": 0.5, "batch-freezer": 1.0}


def main() -> None:
    """Serve until told to end."""
    parser = argparse.ArgumentParser(prog="devices", description=__doc__)
    parser.add_argument("--speed", type=float, default=1.0, help="how many times as fast as the clock on the wall")
    parser.add_argument("--seed", type=int, default=1, help="another number is another kitchen")
    parser.add_argument("--factor", type=float, default=0.88, help="how fast the machine really is beside its kind")
    parser.add_argument("--kitchen", required=True, help="the kitchen that they stand in, by its short name")
    parser.add_argument("--file", type=Path, required=True, help="where it is written on which ports they are")
    asked = parser.parse_args()
    world = World(Clock(asked.speed), asked.seed, asked.factor)
    with suppress(KeyboardInterrupt, asyncio.CancelledError):
        asyncio.run(_serve(world, asked.kitchen, asked.file))


async def _serve(world: World, kitchen: str, file: Path) -> None:
    entries = []
    servers = []
    for key in DEVICES:
        server = await asyncio.start_server(_of(world, key), "127.0.0.1", 0, limit=LONGEST_LINE)
        servers.append(server)
        port = server.sockets[0].getsockname()[1]
        entries.append(f'[[device]]\nkey = "{key}"\nkitchen = "{kitchen}"\naddress = "127.0.0.1:{port}"\n')
    ready = file.with_suffix(".new")
    ready.write_text("\n".join(entries))
    ready.replace(file)
    await asyncio.gather(*(server.serve_forever() for server in servers))


def _of(world: World, key: str) -> Callable[[asyncio.StreamReader, asyncio.StreamWriter], Awaitable[None]]:
    async def talk(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        with suppress(ConnectionError, asyncio.CancelledError):
            writer.write(f"{write_hello(world.hello(key))}\n".encode())
            speaking = asyncio.create_task(_speak(world, key, writer))
            try:
                while line := await reader.readline():
                    _hear(world, key, line, writer)
            finally:
                speaking.cancel()
        writer.close()

    return talk


async def _speak(world: World, key: str, writer: asyncio.StreamWriter) -> None:
    with suppress(ConnectionError):
        while True:
            if not world.is_silent(key, time.monotonic()):
                writer.write(f"{write_shown(world.shows(key))}\n".encode())
                await writer.drain()
            await asyncio.sleep(_EVERY_S[key])


def _hear(world: World, key: str, line: bytes, writer: asyncio.StreamWriter) -> None:
    try:
        told = json.loads(line)
        if not isinstance(told, dict):
            raise DeviceError("device-no-json", said=line.decode(errors="replace").strip()[:60])
        world.do(key, told, time.monotonic())
    except ValueError:
        writer.write(b'{"error": "This is no JSON object on a line of its own."}\n')
    except DeviceError as error:
        writer.write(f"{json.dumps({'error': str(error)})}\n".encode())


if __name__ == "__main__":
    main()
