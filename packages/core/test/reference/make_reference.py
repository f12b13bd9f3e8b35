"""Makes the figures that the core's tests are held against, with tools that share no code with it.

NumPy and SciPy for captures, ngspice for circuits; all from Debian (python3-numpy, python3-scipy, ngspice).
Run with the system's Python in this folder: /usr/bin/python3 make_reference.py, or with the name of one group behind it.
The seed is fixed: the same versions give the same files.
"""

import json
import pathlib
import re
import subprocess
import sys

import numpy as np
import scipy
from scipy.optimize import minimize_scalar

HERE = pathlib.Path(__file__).parent
RESULTS = HERE / 'results'
DECKS = HERE / 'decks'
RNG = np.random.default_rng(4620)


def figures(t, x, guess_hz):
    """The frequency at which harmonics 1 to 10 and an offset leave the least, found by a bounded search; then their amplitudes."""
    rate = 1 / (t[1] - t[0])
    orders = range(1, 1 + min(10, int(0.475 * rate / guess_hz)))

    def solve(hz):
        columns = [np.ones_like(t)]
        for k in orders:
            columns += [np.cos(2 * np.pi * k * hz * t), np.sin(2 * np.pi * k * hz * t)]
        basis = np.stack(columns, axis=1)
        solution, *_ = np.linalg.lstsq(basis, x, rcond=None)
        return solution, x - basis @ solution

    reach = 0.1 / (t[-1] - t[0])
    found = minimize_scalar(lambda hz: np.sum(solve(hz)[1] ** 2), bounds=(guess_hz - reach, guess_hz + reach), method='bounded', options={'xatol': 1e-9})
    hz = float(found.x)
    solution, rest = solve(hz)
    amplitude = np.hypot(solution[1::2], solution[2::2])
    fundamental, upper = amplitude[0] / np.sqrt(2), amplitude[1:] / np.sqrt(2)
    return {
        'fundamentalHz': hz,
        'voltageRms': float(np.sqrt(np.sum(amplitude**2) / 2 + np.mean(rest**2))),
        'dcOffsetVolt': float(solution[0]),
        'peakPositiveVolt': float(np.max(x)),
        'peakNegativeVolt': float(np.min(x)),
        'thdPercent': float(100 * np.sqrt(np.sum(upper**2)) / fundamental),
        'thdPlusNoisePercent': float(100 * np.sqrt(np.sum(upper**2) + np.mean(rest**2)) / fundamental),
        'phaseRad': float(np.arctan2(-solution[2], solution[1])),
    }


def quantised(x, bits, reach):
    step = 2 * reach / 2**bits
    return np.clip(np.round(x / step) * step, -reach, reach - step)


def captures():
    """Each: name, sample rate, count, tone, samples, what the verdict has to be."""
    out = []

    def add(name, rate, count, hz, shape, verdict):
        t = np.arange(count) / rate
        channels = [np.round(c, 5) for c in shape(t)]
        lines = ['Time,' + ','.join(f'CH{i + 1}' for i in range(len(channels)))]
        lines += [','.join([f'{s:.9e}'] + [f'{c[n]:.5f}' for c in channels]) for n, s in enumerate(t)]
        (RESULTS / f'{name}.csv').write_text('\n'.join(lines) + '\n')
        out.append({'name': name, 'toneHz': hz, 'verdict': verdict, 'channels': [figures(t, c, hz) for c in channels]})

    def sine(t, hz, volt, phase=0.3):
        return volt * np.sin(2 * np.pi * hz * t + phase)

    add('part-cycles-offset', 12000, 1111, 41.3, lambda t: [sine(t, 41.3, 18.0) + 1.9], 'clean')
    add('eight-bits', 20000, 1500, 40, lambda t: [quantised(sine(t, 40, 7.4) + 0.02 * RNG.standard_normal(t.size), 8, 10)], 'clean')
    add('noise-40-db-down', 48000, 1600, 1000, lambda t: [sine(t, 1000, 1.0) + 0.00707 * RNG.standard_normal(t.size)], 'clean')
    add('clipped-hard', 20000, 1500, 50, lambda t: [np.clip(sine(t, 50, 16 * 10 ** (2 / 20)), -16, 16)], 'clipped')
    add('clipped-one-side', 20000, 1300, 100, lambda t: [np.maximum(sine(t, 100, 12), -10)], 'clipped')
    add('clipped-eight-bits', 20000, 1500, 40, lambda t: [quantised(np.clip(sine(t, 40, 9), -7, 7) + 0.03 * RNG.standard_normal(t.size), 8, 10)], 'clipped')
    add('just-touching', 40000, 1700, 100, lambda t: [np.clip(sine(t, 100, 12.2), -12, 12)], 'onset')
    add('second-harmonic', 20000, 1000, 100, lambda t: [sine(t, 100, 9) + 0.3 * np.sin(2 * np.pi * 200 * t)], 'distorted')
    add('twenty-kilohertz', 400000, 1000, 20000, lambda t: [np.clip(sine(t, 20000, 12), -10, 10)], 'clipped')
    add('twenty-hertz', 4000, 900, 20, lambda t: [sine(t, 20, 5)], 'clean')
    add('two-channels', 100000, 1000, 1000, lambda t: [sine(t, 1000, 10, 0), sine(t, 1000, 7.5, np.radians(-50))], 'clean')
    return out


def ngspice(name, deck, wanted):
    """Runs a deck and reads the printed values. In batch mode ngspice ends with 1 after a .control block: the values tell."""
    path = DECKS / f'{name}.cir'
    path.write_text(deck)
    text = subprocess.run(['ngspice', '-b', str(path)], capture_output=True, text=True).stdout
    values = {}
    for key in wanted:
        match = re.search(rf'^{re.escape(key)} = ([-\d.e+]+)(?:,([-\d.e+]+))?$', text, re.M)
        values[key] = [float(g) for g in match.groups() if g] if match.group(2) else float(match.group(1))
    return values


def circuits():
    sag = []
    for volt, ohm, load in [(28.0, 0.15, 4.0), (36.0, 0.4, 2.0), (55.0, 0.08, 1.0)]:
        deck = f"""* an amplifier as a source with resistance, then into other loads
V1 a 0 DC {volt}
R1 a out {ohm}
RL out 0 {load}
V2 b 0 DC {volt}
R2 b other {ohm}
RM other 0 {load / 2}
.control
op
let loaded = v(out)
let predicted = v(other)
print loaded predicted
.endc
.end
"""
        values = ngspice(f'sag-{load:g}', deck, ['loaded', 'predicted'])
        sag.append({'unloadedVoltage': volt, 'loadOhm': load, 'sourceOhm': ohm, 'loadedVoltage': values['loaded'],
                    'predictLoadOhm': load / 2, 'predictedVolt': values['predicted']})

    hookup = []
    for load in [8.0, 4.0, 3.0]:
        deck = f"""* two channels in opposite phase across one load: what each of them works into
V1 p 0 DC 10
V2 n 0 DC -10
RL p n {load}
.control
op
let perchannel = v(p) / -i(v1)
print perchannel
.endc
.end
"""
        hookup.append({'loadOhm': load, 'perChannelOhm': ngspice(f'bridged-{load:g}', deck, ['perchannel'])['perchannel']})

    delivered = []
    for hz in [25.0, 60.0, 1000.0]:
        deck = f"""* a driver: coil resistance and inductance, and its resonance
V1 in 0 DC 0 AC 20
RE in a 3.4
LE a b 0.9m
RES b 0 32
LCES b 0 42m
CMES b 0 310u
.control
ac lin 1 {hz} {hz}
let amps = mag(i(v1))
let angle = 180/pi*(ph(v(in)) - ph(-i(v1)))
let power = real(v(in)*conj(-i(v1)))
print amps angle power
.endc
.end
"""
        values = ngspice(f'driver-{hz:g}', deck, ['amps', 'angle', 'power'])
        delivered.append({'frequencyHz': hz, 'voltageRms': 20.0, 'currentRms': values['amps'],
                          'phaseDeg': values['angle'], 'powerWatt': values['power'], 'nominalOhm': 4.0})
    return {'sag': sag, 'hookup': hookup, 'delivered': delivered}


def clamp_capture():
    """A sine held by diodes at both rails, as a transient of the circuit simulator."""
    deck = """* a soft clipper: diodes to two rails
V1 in 0 SIN(0 19 40)
R1 in out 10
D1 out hi dmod
D2 lo out dmod
VH hi 0 13.8
VL lo 0 -13.8
.model dmod D(IS=1e-14 RS=0.05)
.control
set wr_singlescale
set wr_vecnames
option numdgt=7
tran 20u 110m 0 20u
linearize v(out)
wrdata clamp.txt v(out)
.endc
.end
"""
    (DECKS / 'clamp.cir').write_text(deck)
    subprocess.run(['ngspice', '-b', str(DECKS / 'clamp.cir')], capture_output=True, text=True, cwd=HERE)
    data = np.loadtxt(HERE / 'clamp.txt', skiprows=1)
    (HERE / 'clamp.txt').unlink()
    t, v = data[::4, 0], np.round(data[::4, 1], 5)
    t = np.arange(t.size) * 80e-6
    lines = ['TIME;V(out)', 's;V'] + [f'{s:.6e};{x:.5f}'.replace('.', ',') for s, x in zip(t, v)]
    (RESULTS / 'diode-clamp.csv').write_text('\n'.join(lines) + '\n')
    return {'name': 'diode-clamp', 'toneHz': 40, 'verdict': 'clipped', 'channels': [figures(t, v, 40)]}


def written(tree):
    """A nested ('+' or '|', parts) as the text of a network; a coil is its name."""
    if isinstance(tree, str):
        return tree
    kind, parts = tree
    return kind.join(p if isinstance(p, str) else f'({written(p)})' for p in parts)


def resistors(tree, top, bottom, ohms, prefix, lines, nodes):
    """The tree as resistors between two nodes; series parts get nodes of their own."""
    if isinstance(tree, str):
        lines.append(f'R{prefix}{tree} {top} {bottom} {ohms[tree]}')
        return
    kind, parts = tree
    if kind == '|':
        for part in parts:
            resistors(part, top, bottom, ohms, prefix, lines, nodes)
        return
    at = top
    for i, part in enumerate(parts):
        nodes[0] += 1
        after = bottom if i == len(parts) - 1 else f'{prefix}{nodes[0]}'
        resistors(part, at, after, ohms, prefix, lines, nodes)
        at = after


def grown(rng, coils):
    """A random tree over the coils: parted in two or three, each part grown again."""
    if len(coils) == 1:
        return coils[0]
    count = min(len(coils), int(rng.integers(2, 4)))
    cuts = sorted(rng.choice(np.arange(1, len(coils)), size=count - 1, replace=False))
    parts = [list(p) for p in np.split(np.array(coils), cuts)]
    return ('+|'[int(rng.integers(2))], [grown(rng, p) for p in parts])


def networks():
    """Loads, powers and meter figures of networks, from operating points: once with nominal impedances, once with DC resistances."""
    rng = np.random.default_rng(46203)
    trees = [
        ('dual-parallel', ('|', ['A1', 'A2']), 0),
        ('dual-series', ('+', ['A1', 'A2']), 0),
        ('two-dual-series-parallel', ('|', [('+', ['A1', 'A2']), ('+', ['B1', 'B2'])]), 0),
        ('two-dual-parallel-series', ('+', [('|', ['A1', 'A2']), ('|', ['B1', 'B2'])]), 0),
        ('unequal-coils', ('|', [('+', ['A1', 'B1']), 'C1']), 0),
        ('resistor-dual', ('|', ['A1', 'A2']), 1.5),
        ('resistor-mixed', ('+', ['A1', ('|', ['B1', 'C1'])]), 0.82),
    ]
    for n in range(9):
        letters = 'ABCDEF'[: int(rng.integers(2, 7))]
        coils = [f'{c}{i + 1}' for c in letters for i in range(int(rng.choice([1, 2, 4])))]
        trees.append((f'grown-{n + 1}', grown(rng, coils), float(rng.choice([0, 0, 0.47, 1, 2.2]))))

    def names(tree):
        return [tree] if isinstance(tree, str) else [n for p in tree[1] for n in names(p)]

    out = []
    for name, tree, resistor in trees:
        coils = names(tree)
        nominal = {c: float(rng.choice([1, 1.5, 2, 3, 4, 6, 8])) for c in coils}
        dc = {c: round(nominal[c] * float(rng.uniform(0.7, 0.92)), 2) for c in coils}
        volt = round(float(rng.uniform(4, 30)), 1)
        lines = [f'* {written(tree)}', f'VN n 0 DC {volt}', f'VD d 0 DC {volt}']
        top_n, top_d = 'n', 'd'
        if resistor:
            lines += [f'RNseries n nn {resistor}', f'RDseries d dd {resistor}']
            top_n, top_d = 'nn', 'dd'
        resistors(tree, top_n, '0', nominal, 'N', lines, [0])
        resistors(tree, top_d, '0', dc, 'D', lines, [0])
        printed = ['.control', 'op', 'let load = -v(n)/i(vn)', 'let meter = -v(d)/i(vd)', 'print load meter']
        wanted = ['load', 'meter']
        for c in coils:
            printed += [f'let watt{c.lower()} = @rn{c.lower()}[p]', f'print watt{c.lower()}']
            wanted.append(f'watt{c.lower()}')
        if resistor:
            printed += ['let wattseries = @rnseries[p]', 'print wattseries']
            wanted.append('wattseries')
        values = ngspice(f'network-{name}', '\n'.join(lines + printed + ['.endc', '.end']) + '\n', wanted)
        case = {'name': name, 'network': written(tree), 'voltageRms': volt,
                'coils': {c: {'nominalOhm': nominal[c], 'dcOhm': dc[c]} for c in coils},
                'loadOhm': values['load'], 'dcOhm': values['meter'], 'watts': {c: values[f'watt{c.lower()}'] for c in coils}}
        if resistor:
            case |= {'seriesResistorOhm': resistor, 'resistorWatt': values['wattseries']}
        out.append(case)
    return out


def bridges():
    """Wirings that are no groups of series and parallel: five coils with one across the middle."""
    rng = np.random.default_rng(46204)
    out = []
    for n in range(4):
        ohms = {c: float(rng.choice([1, 2, 3, 4, 6, 8])) for c in ['A1', 'A2', 'B1', 'B2', 'C1']}
        deck = f"""* a bridge: two branches of two coils, a fifth from middle to middle
V1 p 0 DC 1
RA1 p x {ohms['A1']}
RA2 x 0 {ohms['A2']}
RB1 p y {ohms['B1']}
RB2 y 0 {ohms['B2']}
RC1 x y {ohms['C1']}
.control
op
let load = -1/i(v1)
let across = v(x)-v(y)
print load across
.endc
.end
"""
        values = ngspice(f'bridge-{n + 1}', deck, ['load', 'across'])
        out.append({'ohms': ohms, 'loadOhm': values['load'], 'acrossVolt': values['across']})
    return out


def passive():
    """Passive parts before a driver: voltage at the driver and impedance at the amplifier, over frequency, by AC analysis."""
    cases = [
        ('highpass-first', 'highpass', 10e-6, None, 4.0, None),
        ('highpass-first-coil', 'highpass', 6.8e-6, None, 3.3, 0.06e-3),
        ('highpass-second', 'highpass', 6.63e-6, 0.424e-3, 4.0, None),
        ('highpass-second-coil', 'highpass', 4.7e-6, 0.33e-3, 3.4, 0.05e-3),
        ('lowpass-first', 'lowpass', None, 0.64e-3, 4.0, None),
        ('lowpass-first-coil', 'lowpass', None, 0.56e-3, 3.2, 0.35e-3),
        ('lowpass-second', 'lowpass', 6.63e-6, 0.424e-3, 4.0, None),
        ('lowpass-second-coil', 'lowpass', 10e-6, 0.68e-3, 6.1, 0.5e-3),
    ]
    hertz = [50, 200, 700, 1500, 3000, 6000, 15000]
    out = []
    for name, kind, farad, henry, ohm, coil_henry in cases:
        inside = [f'C1 p m {farad}' if kind == 'highpass' else f'L1 p m {henry}']
        if kind == 'highpass' and henry:
            inside.append(f'L1 m 0 {henry}')
        if kind == 'lowpass' and farad:
            inside.append(f'C1 m 0 {farad}')
        inside += [f'RD m d {ohm}', f'LD d 0 {coil_henry}'] if coil_henry else [f'RD m 0 {ohm}']
        answers = []
        for f in hertz:
            deck = '\n'.join(
                [f'* {name} at {f} Hz', 'V1 p 0 DC 0 AC 1', *inside, '.control', f'ac lin 1 {f} {f}',
                 'let gre = real(v(m))', 'let gim = imag(v(m))', 'let z = -1/i(v1)', 'let zre = real(z)', 'let zim = imag(z)',
                 'print gre gim zre zim', '.endc', '.end']) + '\n'
            answers.append({'hertz': f, **ngspice(f'passive-{name}', deck, ['gre', 'gim', 'zre', 'zim'])})
        parts = {'kind': kind} | ({'capacitanceFarad': farad} if farad else {}) | ({'inductanceHenry': henry} if henry else {})
        driver = {'resistanceOhm': ohm} | ({'inductanceHenry': coil_henry} if coil_henry else {})
        out.append({'name': name, 'parts': parts, 'driver': driver, 'answers': answers})
    return out


def drivers():
    """Drivers as circuits of parts, in the open, in a closed box and in a ported one: what ngspice says they present."""
    cases = []
    for name, (re_, le, fs, qms, qes), box in [
        ('open', (3.4, 0.9e-3, 34.0, 5.2, 0.55), None),
        ('sealed', (1.7, 1.4e-3, 28.0, 7.5, 0.42), {'kind': 'sealed', 'complianceRatio': 1.6}),
        ('ported', (5.9, 0.5e-3, 41.0, 4.1, 0.38), {'kind': 'ported', 'complianceRatio': 2.2, 'tuningHz': 36.0}),
    ]:
        res = re_ * qms / qes
        cmes = qes / (2 * np.pi * fs * re_)
        lces = re_ / (2 * np.pi * fs * qes)
        parts = ''
        if box is not None:
            lceb = lces / box['complianceRatio']
            if box['kind'] == 'sealed':
                parts = f'LCEB b 0 {lceb:.12g}\n'
            else:
                cmep = 1 / ((2 * np.pi * box['tuningHz']) ** 2 * lceb)
                parts = f'LCEB b p {lceb:.12g}\nCMEP p 0 {cmep:.12g}\n'
        points = []
        for hz in [12.0, 25.0, 36.5, 55.0, 90.0, 400.0, 3000.0]:
            deck = f"""* a driver, {name}: its voice coil, its moving parts, and the air behind it
V1 in 0 DC 0 AC 1
RE in a {re_}
LE a b {le}
RES b 0 {res:.12g}
LCES b 0 {lces:.12g}
CMES b 0 {cmes:.12g}
{parts}.control
ac lin 1 {hz} {hz}
let ohms = 1/mag(i(v1))
let angle = 180/pi*(ph(v(in)) - ph(-i(v1)))
print ohms angle
.endc
.end
"""
            values = ngspice(f'driver-{name}-{hz:g}', deck, ['ohms', 'angle'])
            points.append({'frequencyHz': hz, 'magnitudeOhm': values['ohms'], 'phaseDeg': values['angle']})
        driver = {'dcOhm': re_, 'inductanceHenry': le, 'resonanceHz': fs, 'qMechanical': qms, 'qElectrical': qes}
        cases.append({'name': name, 'driver': driver, **({} if box is None else {'enclosure': box}), 'points': points})
    return cases


def overdriven():
    """A sine held at its rails, by the mean over a million points of its cycle and by numpy's FFT."""
    cases = []
    for db in [0.0, 0.1, 0.5, 1.0, 3.0, 6.0, 12.0, 40.0]:
        t = (np.arange(1 << 20) + 0.5) / (1 << 20)
        x = np.clip(10 ** (db / 20) * np.sin(2 * np.pi * t), -1, 1)
        lines = np.abs(np.fft.rfft(x))
        rms = np.sqrt(np.mean(x**2))
        cases.append({
            'overdriveDb': db,
            'thdPercent': float(100 * np.sqrt(np.sum(lines[2:11] ** 2)) / lines[1]),
            'crestFactor': float(1 / rms),
            'rmsAgainstRail': float(rms),
            'powerAgainstCleanDb': float(10 * np.log10(2 * rms**2)),
            'flatFraction': float(np.mean(np.abs(x) >= 1)),
        })
    return cases


def main():
    RESULTS.mkdir(exist_ok=True)
    DECKS.mkdir(exist_ok=True)
    version = subprocess.run(['ngspice', '--version'], capture_output=True, text=True).stdout
    by = f'numpy {np.__version__}, scipy {scipy.__version__}, ' + re.search(r'ngspice-\d+', version).group(0)
    groups = {
        'captures': lambda: {'cases': captures() + [clamp_capture()]},
        'circuits': circuits,
        'drivers': lambda: {'cases': drivers()},
        'overdrive': lambda: {'cases': overdriven()},
        'passive': lambda: {'cases': passive()},
        'networks': lambda: {'networks': networks(), 'bridges': bridges()},
    }
    for group in sys.argv[1:] or groups:
        (RESULTS / f'{group}.json').write_text(json.dumps({'by': by, **groups[group]()}, indent=1) + '\n')


main()
