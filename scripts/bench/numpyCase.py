"""The same file by NumPy's own text reader and FFT: the yardstick for the CSV case."""

import json
import sys
import time

import numpy as np

times = []
for _ in range(int(sys.argv[2])):
    start = time.perf_counter()
    data = np.loadtxt(sys.argv[1], delimiter=',', skiprows=1)
    for column in range(1, data.shape[1]):
        np.abs(np.fft.rfft(data[:, column]))
    times.append((time.perf_counter() - start) * 1000)
print(json.dumps({'version': np.__version__, 'times': times}))
