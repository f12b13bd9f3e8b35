"""A sweep recorded through filters by a clock 100 ppm slow and noise 30 dB below, and the response that SciPy's filters have.

The sweep is evaluated at the recorder's own sample times (numpy), goes through scipy.signal.sosfilt, and is saved by scipy.io.wavfile. The
truth is scipy.signal.sosfreqz, averaged as power over twelfths of an octave on a dense grid.

Run with Debian's python3-scipy; writes results/sweep-drift.wav and results/sweep-drift.json. Seed fixed.
"""
import json
import os

import numpy as np
from scipy import signal
from scipy.io import wavfile

OUT = os.path.join(os.path.dirname(os.path.abspath(__file__)), 'results')
FS, SECONDS, LOW, HIGH, ARRIVAL, DRIFT_PPM = 48000, 3.0, 20.0, 20000.0, 0.2100123, 100.0


def peak(f0, gain, q):
    A, w0 = 10 ** (gain / 40), 2 * np.pi * f0 / FS
    alpha, c = np.sin(w0) / (2 * q), np.cos(w0)
    b, a = np.array([1 + alpha * A, -2 * c, 1 - alpha * A]), np.array([1 + alpha / A, -2 * c, 1 - alpha / A])
    return np.concatenate([b / a[0], a / a[0]])[None, :]


def main():
    rng = np.random.default_rng(26112)
    sections = np.concatenate([signal.butter(2, 45, 'high', fs=FS, output='sos'), peak(120, 6, 2), peak(2500, -5, 1), signal.butter(2, 15000, 'low', fs=FS, output='sos')])
    t = (np.arange(int(FS * 3.5)) / FS - ARRIVAL) * (1 + DRIFT_PPM * 1e-6)
    k = SECONDS / np.log(HIGH / LOW)
    played = np.where((t >= 0) & (t <= SECONDS), 0.5 * np.sin(2 * np.pi * LOW * k * np.expm1(np.clip(t, 0, SECONDS) / k)), 0)
    heard = 0.8 * signal.sosfilt(sections, played)
    inside = (t >= 0) & (t <= SECONDS)
    noise = rng.normal(0, 1, len(t))
    heard = heard + noise * (np.sqrt(np.mean(heard[inside] ** 2)) * 10 ** (-30 / 20))
    wavfile.write(os.path.join(OUT, 'sweep-drift.wav'), FS, np.round(heard * 32767).astype(np.int16))
    f = LOW * 2.0 ** (np.arange(int(12 * np.log2(HIGH / LOW)) + 1) / 12)
    level = []
    for x in f:
        g = np.geomspace(max(LOW, x * 2 ** (-1 / 24)), min(HIGH, x * 2 ** (1 / 24)), 1001)
        h = 0.8 * signal.sosfreqz(sections, worN=2 * np.pi * g / FS)[1]
        level.append(10 * np.log10(np.trapz(np.abs(h) ** 2, np.log(g)) / np.log(g[-1] / g[0])))
    with open(os.path.join(OUT, 'sweep-drift.json'), 'w') as out:
        json.dump({'sweepSecond': SECONDS, 'levelDbfs': 20 * np.log10(0.5), 'arrivalSecond': ARRIVAL, 'driftPpm': DRIFT_PPM,
                   'frequenciesHz': [round(v, 5) for v in f], 'levelDb': [round(v, 4) for v in level]}, out)
        out.write('\n')


if __name__ == '__main__':
    main()
