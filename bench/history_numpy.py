#!/usr/bin/python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The same work as `fortitor-cli spectrum FILE --format f32 --rate R`, with numpy and scipy: what it is held against.

history_numpy.py make FILE READINGS        strokes at 200 Hz, float32
history_numpy.py run FILE RATE             prints what it counted and how long that took
"""
import sys
import time

import numpy as np
from scipy import linalg, ndimage, signal


def make(path, readings):
    random = np.random.default_rng(7)
    chunk = 7_200_000
    with open(path, "wb") as out:
        for start in range(0, readings, chunk):
            n = min(chunk, readings - start)
            t = (np.arange(n) + start) / 200.0
            x = 80 * np.sin(2 * np.pi * t / 86400)
            x += 60 * np.sin(2 * np.pi * 0.55 * t + 0.3 * np.sin(t / 7)) * (0.55 + 0.45 * np.sin(2 * np.pi * t / 130))
            x += 6 * random.standard_normal(n, dtype=np.float32) + 3 * np.sin(2 * np.pi * 9 * t)
            x[random.integers(0, n, 3)] += 900
            x.astype(np.float32).tofile(out)


def repaired(x):
    gap = ~np.isfinite(x)
    i = np.arange(len(x))
    if gap.any():
        x[gap] = np.interp(i[gap], i[~gap], x[~gap])
    off = np.abs(x - ndimage.median_filter(x, 5, mode="nearest"))
    told = off if np.mean(off == 0) <= 0.25 else off[off > 0]
    bad = gap | (off > 12 * 1.4826 * np.median(told))
    x[bad] = np.interp(i[bad], i[~bad], x[~bad])
    return x, int(bad.sum())


def detrended(x, length):
    n = len(x)
    joints = [0.0]
    while n - 1 - joints[-1] - length >= length / 2:
        joints.append(length * len(joints))
    joints = np.array(joints + [n - 1.0])
    size = len(joints)
    main, side, level = np.zeros(size), np.zeros(size), np.zeros(size)
    for k in range(size - 1):
        a = int(np.ceil(joints[k]))
        b = n if k == size - 2 else int(np.ceil(joints[k + 1]))
        u = (np.arange(a, b) - joints[k]) / (joints[k + 1] - joints[k])
        y = x[a:b]
        main[k] += ((1 - u) ** 2).sum()
        main[k + 1] += (u**2).sum()
        side[k] += (u * (1 - u)).sum()
        level[k] += (y * (1 - u)).sum()
        level[k + 1] += (y * u).sum()
    solved = linalg.solveh_banded(np.vstack([np.r_[0, side[:-1]], main]), level)
    x -= np.interp(np.arange(n), joints, solved)
    return x


def filtered(x, rate, asked=2.0):
    corner = asked * (np.sqrt(2) - 1) ** (-1 / 8)
    sections = signal.butter(4, corner, fs=rate, output="sos")
    return signal.sosfiltfilt(sections, x, padtype="odd", padlen=min(int(20 * rate), len(x) - 1))


def turning(x):
    step = np.diff(x)
    moves = np.nonzero(step)[0]
    way = np.sign(step[moves])
    turns = np.nonzero(way[1:] != way[:-1])[0]
    return x[np.r_[0, moves[turns] + 1, moves[-1] + 1]]


def rainflow(points):
    stack, ranges = [], []
    for p in points.tolist():
        stack.append(p)
        while len(stack) >= 4:
            inner = abs(stack[-2] - stack[-3])
            if inner > abs(stack[-1] - stack[-2]) or inner > abs(stack[-3] - stack[-4]):
                break
            ranges.append(inner)
            stack[-3:] = [stack[-1]]
    return np.array(ranges), np.abs(np.diff(np.array(stack)))


def run(path, rate):
    start = time.time()
    x = np.fromfile(path, np.float32).astype(np.float64)
    x, bad = repaired(x)
    x = detrended(x, 3600 * rate)
    points = turning(filtered(x, rate))
    whole, half = rainflow(points)
    ranges = np.r_[whole, half]
    counts = np.r_[np.ones(len(whole)), np.full(len(half), 0.5)]
    order = np.argsort(ranges)[::-1]
    above = np.cumsum(counts[order]) - counts[order]
    low = ranges[order][above <= 0.0025 * counts.sum()].min()
    kept = ranges >= 0.25 * low
    histogram, _ = np.histogram(ranges[kept], 64, weights=counts[kept])
    damage = (counts[kept] * (ranges[kept] / 71.0) ** 3 / 2e6).sum()
    print(f"repaired {bad} turning_points {len(points)} cycles {counts[kept].sum()} range_max {ranges.max():.9g} "
          f"range_low_chance {low:.9g} straight_damage {damage:.9g} bins {histogram.sum()}")
    print(f"{time.time() - start:.1f} s")


if __name__ == "__main__":
    if sys.argv[1] == "make":
        make(sys.argv[2], int(sys.argv[3]))
    else:
        run(sys.argv[2], float(sys.argv[3]))
