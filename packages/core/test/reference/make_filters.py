"""Analog crossover filters by SciPy: results/filters.json. From this folder: /usr/bin/python3 make_filters.py

Butterworth and Bessel (norm="mag": -3.01 dB at the corner) come from scipy.signal; Linkwitz-Riley is a Butterworth of half the
order twice. Group delay by a five-point derivative of the unwrapped phase.
"""
import json
from pathlib import Path

import numpy as np
import scipy
from scipy import signal

CORNER_HZ = 250.0
FREQUENCIES = np.array([20.0, 63.0, 125.0, 200.0, 250.0, 400.0, 800.0, 2000.0, 8000.0])


def zpk(kind, family, order):
    btype = "high" if kind == "highpass" else "low"
    w = 2 * np.pi * CORNER_HZ
    if family == "bessel":
        return signal.bessel(order, w, btype, analog=True, output="zpk", norm="mag")
    if family == "butterworth":
        return signal.butter(order, w, btype, analog=True, output="zpk")
    z, p, k = signal.butter(order // 2, w, btype, analog=True, output="zpk")
    return np.concatenate([z, z]), np.concatenate([p, p]), k * k


def response(system, frequencies):
    _, h = signal.freqs_zpk(*system, worN=2 * np.pi * np.asarray(frequencies))
    return h


def delay(system, frequency):
    step = frequency * 1e-3
    h = response(system, [frequency + i * step for i in (-2, -1, 0, 1, 2)])
    phase = np.unwrap(np.angle(h))
    slope = (phase[0] - 8 * phase[1] + 8 * phase[3] - phase[4]) / (12 * step)
    return -slope / (2 * np.pi)


cases = []
for family, orders in (("butterworth", range(1, 9)), ("linkwitz-riley", (2, 4, 6, 8)), ("bessel", range(2, 9))):
    for order in orders:
        for kind in ("highpass", "lowpass"):
            system = zpk(kind, family, order)
            h = response(system, FREQUENCIES)
            cases.append(
                {
                    "filter": {"kind": kind, "family": family, "order": order, "cornerHz": CORNER_HZ},
                    "magnitudeDb": list(20 * np.log10(np.abs(h))),
                    "phaseDeg": list(np.degrees(np.angle(h))),
                    "groupDelaySecond": [delay(system, f) for f in FREQUENCIES],
                }
            )
out = Path(__file__).parent / "results" / "filters.json"
out.write_text(json.dumps({"scipy": scipy.__version__, "frequenciesHz": list(FREQUENCIES), "cases": cases}, indent=1) + "\n")
