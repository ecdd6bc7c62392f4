"""Writes assignment.json: assignments worked out by an implementation of its own, from docs/formats.md alone."""

import json
import random


def murmur3_x86_32(data: bytes, seed: int = 0) -> int:
    def rotl(x: int, r: int) -> int:
        return ((x << r) | (x >> (32 - r))) & 0xFFFFFFFF

    h = seed
    blocks = len(data) // 4
    for i in range(blocks):
        k = int.from_bytes(data[4 * i : 4 * i + 4], "little")
        k = rotl(k * 0xCC9E2D51 & 0xFFFFFFFF, 15) * 0x1B873593 & 0xFFFFFFFF
        h = (rotl(h ^ k, 13) * 5 + 0xE6546B64) & 0xFFFFFFFF
    tail = int.from_bytes(data[4 * blocks :], "little")
    if len(data) % 4:
        h ^= rotl(tail * 0xCC9E2D51 & 0xFFFFFFFF, 15) * 0x1B873593 & 0xFFFFFFFF
    h ^= len(data)
    h = (h ^ (h >> 16)) * 0x85EBCA6B & 0xFFFFFFFF
    h = (h ^ (h >> 13)) * 0xC2B2AE35 & 0xFFFFFFFF
    return h ^ (h >> 16)


def h(text: str) -> float:
    return murmur3_x86_32(text.encode("utf-8")) / 2**32


def assign(salt: str, share: float, variants: list, unit: str, group: list | None = None) -> dict:
    total = 0.0
    for _, weight in variants:
        total += weight
    place = h(f"{salt}:variant:{unit}")
    if group is None:
        inside = h(f"{salt}:share:{unit}") < share
    else:
        inside = group[1] <= h(f"{group[0]}:group:{unit}") < group[1] + share
    cumulative, chosen = 0.0, None
    for key, weight in variants:
        cumulative += weight
        if cumulative / total > place:
            chosen = key
            break
    return {"unit": unit, "in": inside, "variant": chosen if inside else None, "bucket": int(10000 * place)}


EXPERIMENTS = [
    ("plain-salt", 1.0, [["control", 50], ["b", 50]]),
    ("thirds", 1.0, [["a", 1], ["b", 1], ["c", 1]]),
    ("decimals", 0.5, [["a", 33.3], ["b", 33.3], ["c", 33.4]]),
    ("uneven", 0.9, [["control", 90], ["rare", 10]]),
    ("sält ☂", 0.25, [["a", 40], ["b", 40], ["c", 20]]),
    ("zero-first", 1.0, [["never", 0], ["always", 1]]),
    ("nobody", 0.0, [["a", 50], ["b", 50]]),
    ("tenths", 1.0, [[f"v{i}", 0.1] for i in range(10)]),
]

# Three members of a group that leave a tenth of it, and one that begins where decimals are not exact.
MEMBERS = [
    ("member-1", 0.3, [["control", 50], ["b", 50]], ["checkout", 0.0]),
    ("member-2", 0.4, [["control", 1], ["b", 2]], ["checkout", 0.3]),
    ("member-3", 0.2, [["control", 50], ["b", 50]], ["checkout", 0.7]),
    ("inexact", 0.2, [["a", 1], ["b", 1]], ["tenths-and-fifths", 0.1 + 0.2]),
]

random.seed(7)
UNITS = ["", "a", "ab", "abc", "abcd", "abcde", "0", "visitor 7", "Žofie", "日本", "🎻", "x" * 300] + [
    "".join(random.choice("abcdefghijklmnopqrstuvwxyz0123456789") for _ in range(26)) for _ in range(30)
]

print("[")
rows = []
for salt, share, variants, group in [(*experiment, None) for experiment in EXPERIMENTS] + MEMBERS:
    units = [assign(salt, share, variants, unit, group) for unit in UNITS]
    rows.append(
        '{"salt":%s,"share":%s,%s"variants":%s,"units":[\n%s\n]}'
        % (
            json.dumps(salt, ensure_ascii=False),
            json.dumps(share),
            "" if group is None else '"group":%s,' % json.dumps(group),
            json.dumps(variants, ensure_ascii=False),
            ",\n".join(json.dumps(unit, ensure_ascii=False) for unit in units),
        )
    )
print(",\n".join(rows))
print("]")
