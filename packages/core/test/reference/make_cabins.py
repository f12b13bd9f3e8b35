"""Forty simulated cabins and what SciPy's optimiser makes of each with five parametric bands.

Each response is a direct sound, reflections and resonances summed as complex pressures, with the gain of a closed cabin below 70 Hz.
The best fit: 24 starts of scipy.optimize.least_squares (trust region) on frequency, gain and Q of all five bands together, filters by the
W3C Audio EQ Cookbook through scipy.signal.freqz. Nulls (6 dB below the response a sixth of an octave to either side) are left out.

Run with Debian's python3-scipy; writes results/cabins.json. Seed fixed.
"""
import json
import os

import numpy as np
from scipy import optimize, signal

HERE = os.path.dirname(os.path.abspath(__file__))
FS, LOW, HIGH, BANDS, BOOST, CUT = 48000, 25.0, 400.0, 5, 3.0, 12.0
F = 20 * 2.0 ** (np.arange(int(24 * np.log2(500 / 20)) + 1) / 24)
INSIDE = (F >= LOW) & (F <= HIGH)


def cabin(rng):
    h = np.ones(len(F), complex)
    for _ in range(rng.integers(1, 4)):
        h += rng.uniform(0.1, 0.45) * rng.choice([-1, 1]) * np.exp(-2j * np.pi * F * rng.uniform(0.0015, 0.012))
    for _ in range(rng.integers(1, 4)):
        f0, q = np.exp(rng.uniform(np.log(30), np.log(300))), rng.uniform(1.5, 6)
        h += rng.uniform(0.5, 2.0) / q * (1j * F / f0 / 1.0) / (1 - (F / f0) ** 2 + 1j * F / f0 / q)
    level = 20 * np.log10(np.abs(h)) + np.where(F < 70, rng.uniform(0, 9) * np.log2(70 / F) / np.log2(70 / 20), 0)
    return level + rng.uniform(60, 90)


def nulls(level):
    at = lambda f: np.interp(np.log2(f), np.log2(F), level)
    found = []
    for i in range(1, len(F) - 1):
        f = F[i]
        if not (LOW <= f <= HIGH) or level[i] > level[i - 1] or level[i] > level[i + 1] or f / 2 ** (1 / 6) < F[0] or f * 2 ** (1 / 6) > F[-1]:
            continue
        if min(at(f / 2 ** (1 / 6)), at(f * 2 ** (1 / 6))) - level[i] > 6:
            found.append(float(f))
    return found


def peaks_db(f, gain, q, at):
    total = np.zeros(len(at))
    for f0, g, Q in zip(f, gain, q):
        A, w0 = 10 ** (g / 40), 2 * np.pi * f0 / FS
        alpha, c = np.sin(w0) / (2 * Q), np.cos(w0)
        b, a = [1 + alpha * A, -2 * c, 1 - alpha * A], [1 + alpha / A, -2 * c, 1 - alpha / A]
        total += 20 * np.log10(np.abs(signal.freqz(b, a, worN=2 * np.pi * at / FS)[1]))
    return total


def best_fit(level, rng):
    keep = INSIDE.copy()
    for n in nulls(level):
        keep &= ~((F >= n / 2 ** (1 / 6)) & (F <= n * 2 ** (1 / 6)))
    x = np.log2(F[INSIDE])
    off = level - np.trapz(level[INSIDE], x) / (x[-1] - x[0])
    bottom = np.array(nulls(level))
    low = np.concatenate([np.full(BANDS, np.log2(LOW)), np.full(BANDS, -CUT), np.full(BANDS, np.log2(0.5))])
    high = np.concatenate([np.full(BANDS, np.log2(HIGH)), np.full(BANDS, BOOST), np.full(BANDS, np.log2(10))])
    wide = np.geomspace(10, 2000, 120)

    def error(v):
        f, gain, q = 2 ** v[:BANDS], v[BANDS:2 * BANDS], 2 ** v[2 * BANDS:]
        e = (off + peaks_db(f, gain, q, F))[keep] / np.sqrt(keep.sum())
        s = peaks_db(f, gain, q, wide)
        return np.concatenate([e, 4 * np.maximum(0, s - BOOST), 4 * np.maximum(0, -CUT - s)])

    def start(k):
        rest, f, g, q = np.where(keep, np.clip(-off, -CUT, BOOST), 0), [], [], []
        for _ in range(BANDS):
            p = np.abs(rest) * (1 if k % 3 == 0 else rng.uniform(0, 1, len(rest)))
            i = int(np.argmax(p))
            f.append(np.clip(F[i], LOW, HIGH)); g.append(np.clip(rest[i], -CUT, BOOST)); q.append(2 ** rng.uniform(-0.5, 2.5))
            rest = rest - peaks_db([f[-1]], [g[-1]], [q[-1]], F)
        return np.clip(np.concatenate([np.log2(f), g, np.log2(q)]), low + 1e-6, high - 1e-6)

    best = np.inf
    for k in range(24):
        s = optimize.least_squares(error, start(k), bounds=(low, high), max_nfev=40, xtol=1e-5, ftol=1e-5)
        v = s.x
        best = min(best, float(np.sqrt(np.mean((off + peaks_db(2 ** v[:BANDS], v[BANDS:2 * BANDS], 2 ** v[2 * BANDS:], F))[keep] ** 2))))
    return best


def main():
    cabins = []
    for number in range(40):
        rng = np.random.default_rng([26111, number])
        level = np.round(cabin(rng), 3)
        cabins.append({'levelDb': level.tolist(), 'nullsHz': [round(n, 4) for n in nulls(level)], 'scipyDb': round(best_fit(level, rng), 4)})
        print(number, cabins[-1]['scipyDb'], cabins[-1]['nullsHz'], flush=True)
    with open(os.path.join(HERE, 'results', 'cabins.json'), 'w') as f:
        json.dump({'fromHz': LOW, 'toHz': HIGH, 'bands': BANDS, 'maxBoostDb': BOOST, 'maxCutDb': CUT, 'frequenciesHz': [round(v, 5) for v in F], 'cabins': cabins}, f)
        f.write('\n')


if __name__ == '__main__':
    main()
