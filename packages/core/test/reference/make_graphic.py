"""Responses over ten octaves and what SciPy's bounded least squares makes of each with a graphic equaliser of fixed Q.

Gains of all centres move together from one start; whatever passes the limits anywhere weighs 3, 30 and 200 times as much in turn. Filters by
the W3C Audio EQ Cookbook. Run with Debian's python3-scipy; writes results/graphic.json. Seed fixed.
"""
import json
import os

import numpy as np
from scipy.optimize import least_squares

HERE = os.path.dirname(os.path.abspath(__file__))
FS, LOW, HIGH, CUT = 48000.0, 25.0, 16000.0, 12.0
THIRDS = [20, 25, 31.5, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800, 1000, 1250, 1600, 2000, 2500, 3150, 4000, 5000, 6300,
          8000, 10000, 12500, 16000]
OCTAVES = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16000]
F = 20 * 2.0 ** (np.arange(int(12 * np.log2(900)) + 1) / 12)
DENSE = np.geomspace(LOW, HIGH, 400)
EVERYWHERE = np.geomspace(8, 23900, 500)


def peak_db(f, centre, gain, q):
    a, w0 = 10 ** (gain / 40), 2 * np.pi * centre / FS
    alpha, z = np.sin(w0) / (2 * q), np.exp(-2j * np.pi * f / FS)
    above = (1 + alpha * a) - 2 * np.cos(w0) * z + (1 - alpha * a) * z * z
    below = (1 + alpha / a) - 2 * np.cos(w0) * z + (1 - alpha / a) * z * z
    return 20 * np.log10(abs(above / below))


def best(level, centres, q, boost):
    inside = [c for c in centres if LOW <= c <= HIGH]
    wanted = np.interp(np.log(DENSE), np.log(F), level)
    wanted = wanted - np.mean(wanted)
    total = lambda gains, f: sum(peak_db(f, c, g, q) for c, g in zip(inside, gains))
    gains = np.clip(-np.interp(np.log(inside), np.log(DENSE), wanted) * 0.5, -CUT, boost)
    for weight in (0.3, 3, 20):
        gains = least_squares(lambda g: np.concatenate([
            (wanted + total(g, DENSE)) / np.sqrt(len(DENSE)),
            weight * np.clip(total(g, EVERYWHERE) - boost, 0, None),
            weight * np.clip(-CUT - total(g, EVERYWHERE), 0, None)]), gains, bounds=(-CUT - 1e-9, boost + 1e-9), max_nfev=60).x
    return float(np.sqrt(np.mean((wanted + total(gains, DENSE)) ** 2)))


rng = np.random.default_rng(4620)
cases = []
for n in range(18):
    # Broad bumps alone: a dip so narrow that it is a null is left out of the fit, and out of this comparison.
    bumps = [(20 * 900 ** rng.random(), rng.uniform(-10, 10), rng.uniform(0.25, 0.8)) for _ in range(rng.integers(3, 11))]
    level = sum(db * np.exp(-0.5 * (np.log2(F / c) / o) ** 2) for c, db, o in bumps)
    isOctave = n % 3 == 2
    q, boost, step = (1.414, 6.0, 0.5) if isOctave else ((4.318, 3.0, 0.1) if n % 3 == 0 else (3.0, 6.0, 0.5))
    centres = OCTAVES if isOctave else THIRDS
    cases.append({"centresHz": centres, "q": q, "maxBoostDb": boost, "gainStepDb": step, "levelDb": [round(float(v), 4) for v in level],
                  "scipyDb": round(best(level, centres, q, boost), 4)})
with open(os.path.join(HERE, "results", "graphic.json"), "w") as out:
    json.dump({"fromHz": LOW, "toHz": HIGH, "maxCutDb": CUT, "frequenciesHz": [round(float(f), 6) for f in F], "cases": cases}, out)
    out.write("\n")
