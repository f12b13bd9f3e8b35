"""Loads with drivers behind passive parts, by ngspice 39 (AC analysis): impedance at the terminals and power in each coil.

Each deck drives the network with 1 V; a coil is its resistance in series with its inductance. Run from this folder:
/usr/bin/python3 make_branches.py
"""
import json
import math
import subprocess
from pathlib import Path

HERE = Path(__file__).parent
HERTZ = [40, 100, 400, 1000, 3500, 8000, 20000]
USUAL_CORNER_HZ = 2000  # where the coil of a driver that nobody measured pushes back as much as its resistance does


def coil(name, ohm, parts=(), henry=None):
    """A driver of one coil; parts from the amplifier's side: (kind, capacitance in farad, inductance in henry)."""
    high = any(kind == "highpass" for kind, _, _ in parts)
    inductance = henry if henry is not None else (0 if high else ohm / (2 * math.pi * USUAL_CORNER_HZ))
    return {"name": name, "ohm": ohm, "parts": list(parts), "henry": inductance, "given": henry}


CIRCUITS = {
    "capacitor": {"network": "A1|B1", "coils": [coil("A1", 4), coil("B1", 4, [("highpass", 6.8e-6, None)])]},
    "second-order": {
        "network": "A1|B1",
        "coils": [coil("A1", 4, [("lowpass", 20e-6, 0.45e-3)], 0.3e-3), coil("B1", 4, [("highpass", 8.2e-6, 0.3e-3)])],
    },
    "pair-and-tweeter": {
        "network": "(A1+B1)|C1",
        "coils": [coil("A1", 4), coil("B1", 4), coil("C1", 6, [("highpass", 4.7e-6, None)])],
    },
    "midrange": {
        "network": "A1|B1|C1",
        "coils": [
            coil("A1", 4, [("lowpass", None, 1.2e-3)]),
            coil("B1", 8, [("highpass", 47e-6, None), ("lowpass", None, 0.4e-3)]),
            coil("C1", 8, [("highpass", 3.3e-6, 0.2e-3)]),
        ],
    },
}
# Where each coil hangs: (from node, to node); nodes are the terminals "in" and "0", and what lies between coils in series.
PLACES = {"pair-and-tweeter": {"A1": ("in", "ab"), "B1": ("ab", "0"), "C1": ("in", "0")}}


def deck(name, circuit, hertz):
    lines = [f"* {name} at {hertz} Hz", "V1 in 0 AC 1"]
    for each in circuit["coils"]:
        top, bottom = PLACES.get(name, {}).get(each["name"], ("in", "0"))
        node = top
        for i, (kind, farad, henry) in enumerate(each["parts"]):
            after = f"{each['name']}p{i}"
            series, across = (("C", farad), ("L", henry)) if kind == "highpass" else (("L", henry), ("C", farad))
            lines.append(f"{series[0]}s{each['name']}{i} {node} {after} {series[1]!r}")
            if across[1] is not None:
                lines.append(f"{across[0]}a{each['name']}{i} {after} {bottom} {across[1]!r}")
            node = after
        middle = f"{each['name']}m"
        lines.append(f"R{each['name']} {node} {middle} {each['ohm']!r}")
        lines.append(f"L{each['name']} {middle} {bottom} {max(each['henry'], 1e-15)!r}")
    prints = ["i(V1)"] + [f"v({middle_of(each, name)[0]})-v({middle_of(each, name)[1]})" for each in circuit["coils"]]
    lines += [f".ac lin 1 {hertz} {hertz}", ".control", "set numdgt=12", "run", *[f"print real({p}) imag({p})" for p in prints], "quit", ".endc", ".end"]
    return "\n".join(lines) + "\n"


def middle_of(each, name):
    top, _ = PLACES.get(name, {}).get(each["name"], ("in", "0"))
    node = f"{each['name']}p{len(each['parts']) - 1}" if each["parts"] else top
    return node, f"{each['name']}m"


def figures(text):
    return [float(line.split("=")[1]) for line in text.splitlines() if line.startswith(("real(", "imag("))]


def main():
    cases = []
    for name, circuit in CIRCUITS.items():
        answers = []
        for hertz in HERTZ:
            source = deck(name, circuit, hertz)
            if hertz == 1000:
                (HERE / "decks" / f"branch-{name}.cir").write_text(source)
            path = Path("/tmp") / "branch.cir"
            path.write_text(source)
            out = subprocess.run(["ngspice", "-b", str(path)], capture_output=True, text=True, check=True).stdout
            values = figures(out)
            current = complex(values[0], values[1])
            impedance = -1 / current
            watts = [
                (values[2 * i + 2] ** 2 + values[2 * i + 3] ** 2) / each["ohm"] for i, each in enumerate(circuit["coils"])
            ]
            answers.append({"hertz": hertz, "re": impedance.real, "im": impedance.imag, "watts": watts})
        coils = [
            {
                "name": each["name"],
                "driver": each["name"][:-1],
                "nominalOhm": each["ohm"],
                **({} if each["given"] is None else {"inductanceHenry": each["given"]}),
                **(
                    {}
                    if not each["parts"]
                    else {
                        "branch": {
                            "parts": [
                                {
                                    "kind": kind,
                                    **({} if farad is None else {"capacitanceFarad": farad}),
                                    **({} if henry is None else {"inductanceHenry": henry}),
                                }
                                for kind, farad, henry in each["parts"]
                            ]
                        }
                    }
                ),
            }
            for each in circuit["coils"]
        ]
        cases.append({"name": name, "network": circuit["network"], "coils": coils, "answers": answers})
    (HERE / "results" / "branches.json").write_text(json.dumps({"by": "ngspice 39, AC analysis, 1 V", "cases": cases}, indent=1) + "\n")


if __name__ == "__main__":
    main()
