"""`steps FILE [--machine KIND] [--litres L] [--cool HOW] [--json]`: a mix file to the steps of making it."""

from __future__ import annotations

import json
from typing import Any

from jalebi_core.formats.mix_file import read_mix
from jalebi_core.formats.steps_file import steps_bench, steps_report
from jalebi_core.model.errors import JalebiError

from .analyse import read_file
from .arguments import Arguments, refuse, run


def main(arguments: list[str]) -> int:
    """Print the steps and return 0, or one sentence on standard error and 2."""
    parser = Arguments("./jalebi steps", description="Say how a mix is made, step by step.")
    parser.add_argument("file", metavar="FILE", help="a mix file (docs/file-formats.md), or - for standard input")
    parser.add_argument("--machine", metavar="KIND", help="the kind of machine; a compressor where nothing is said")
    parser.add_argument("--litres", metavar="L", type=float, help="the bowl of the machine")
    parser.add_argument("--cool", metavar="HOW", default="ice-bath", help="how a hot base is cooled")
    parser.add_argument("--json", action="store_true", help="print data instead of sentences")
    asked = parser.parse_args(arguments)
    try:
        mix = read_mix(read_file(asked.file))
        found = steps_report(mix, steps_bench(mix, asked.machine, asked.litres, asked.cool))
    except JalebiError as error:
        return refuse(str(error))
    except OSError as error:
        return refuse(f"{asked.file[:200]} cannot be read: {error.strerror}")
    print(json.dumps(found, ensure_ascii=False, indent=2) if asked.json else _sentences(found))
    return 0


def _sentences(found: dict[str, Any]) -> str:
    lines = [f"{found['name']}: {found['way']}"]
    lines += [f"  Not so: {one['said']} {_instead(one['instead'])}".rstrip() for one in found["refused"]]
    for number, step in enumerate(found["steps"], start=1):
        lines.append(f"{number:>3}  {step['title']}")
        lines += [f"     {said}" for said in [*step["do"], *step["warnings"]]]
    lines += [f"  CHECK {one['said']}" for one in found["checks"] if not one["ok"]]
    return "\n".join(lines)


def _instead(slugs: list[str]) -> str:
    return f"Instead: {', '.join(slugs)}." if slugs else ""


if __name__ == "__main__":
    run(main)
