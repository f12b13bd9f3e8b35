"""Response of a recorded logarithmic sweep, by SciPy: spectral division, then the power mean over twelfths of an octave.

Usage: deconvolve.py FILE.wav FROM_HZ TO_HZ SECONDS. Prints JSON. Shares no code with the project: the sweep comes from
scipy.signal.chirp, the file is read by scipy.io.wavfile, and no impulse is cut out.
"""
import json
import sys

import numpy as np
import scipy
from scipy import fft, signal
from scipy.io import wavfile

name, low, high, seconds = sys.argv[1], *map(float, sys.argv[2:])
rate, samples = wavfile.read(name)
# SciPy reads 24 bits left-aligned in 32.
captured = samples.astype(float) / 2**31

t = np.arange(round(seconds * rate)) / rate
played = signal.chirp(t, low, seconds, high, method="logarithmic", phi=-90)
fade = round(0.05 * rate)
ramp = 0.5 - 0.5 * np.cos(np.pi * (np.arange(fade) + 0.5) / fade)
played[:fade] *= ramp
played[-fade:] *= ramp[::-1]

size = fft.next_fast_len(len(played) + len(captured))
X, Y = fft.rfft(played, size), fft.rfft(captured, size)
H = Y * np.conj(X) / (np.abs(X) ** 2 + 1e-9 * np.max(np.abs(X)) ** 2)
line = rate / size
points = []
for k in range(-80, 80):
    centre = 1000 * 2 ** (k / 12)
    if not low <= centre <= min(high, 0.45 * rate):
        continue
    first, last = (int(round(centre * 2 ** (s / 24) / line)) for s in (-1, 1))
    points.append({"hertz": centre, "db": 10 * np.log10(np.mean(np.abs(H[first : last + 1]) ** 2))})
lag = int(np.argmax(np.abs(fft.irfft(H, size))))
print(json.dumps({"scipy": scipy.__version__, "delaySecond": lag / rate, "points": points}))
