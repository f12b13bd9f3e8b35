import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { seriesResistor } from './seriesResistor.ts';
import { AWG_GAUGES, awgAreaMm2, METRIC_GAUGES, speakerWire, wireEnds } from './speakerWire.ts';

describe('seriesResistor', () => {
  it.each([
    // load, resistor, volts, rating -> load seen, level, heat, size to buy, gravest grade
    [2, 2, 9, 25, 4, -6.0206, 10.125, 25, 'attention'],
    [2, 2, 9, 10, 4, -6.0206, 10.125, 25, 'stop'],
    [4, 0.5, 8, 10, 4.5, -1.0231, 1.5802, 5, 'good'],
    [4, 0.5, 16, 10, 4.5, -1.0231, 6.321, 25, 'attention'],
  ])('%f ohm behind %f ohm at %f V, rated %f W', (loadOhm, resistorOhm, voltageRms, ratedPowerWatt, seen, level, heat, buy, grade) => {
    const result = seriesResistor({ loadOhm, resistorOhm, voltageRms, ratedPowerWatt });
    expect(result.loadOhm).toBe(seen);
    expect(result.levelChangeDb).toBeCloseTo(level, 4);
    expect(result.resistorWatt).toBeCloseTo(heat, 3);
    expect(result.wantedRatingWatt).toBe(buy);
    expect(result.findings[0]!.grade).toBe(grade);
  });
  it('says straight out that half of the power may end there', () => {
    const { findings } = seriesResistor({ loadOhm: 2, resistorOhm: 2, voltageRms: 9 });
    expect(say(findings[0]!).text).toMatch(/50\s% of the power is lost as heat/);
  });
  it('refuses what is not above 0', () => {
    expect(() => seriesResistor({ loadOhm: 2, resistorOhm: 0, voltageRms: 9 })).toThrow('resistor must be above 0 ohm');
  });
});

describe('speaker wire', () => {
  // The copper wire tables of handbooks (National Bureau of Standards, Handbook 100), from memory: mm² and ohms for 1000 ft.
  it.each([
    [20, 0.5176, 10.15],
    [16, 1.309, 4.016],
    [12, 3.309, 1.588],
    [10, 5.261, 0.9989],
    [8, 8.367, 0.6282],
    [4, 21.15, 0.2485],
  ])('%i AWG is %f mm² and %f ohm for a thousand feet', (gauge, areaMm2, ohmPerThousandFeet) => {
    expect(awgAreaMm2(gauge) / areaMm2).toBeCloseTo(1, 3);
    const { ohmPerMetre } = AWG_GAUGES.find(({ name }) => name === `${gauge} AWG`)!;
    expect((ohmPerMetre * 304.8) / ohmPerThousandFeet).toBeCloseTo(1, 3);
  });
  it('allows metric wire a little more than the bare copper of its size', () => {
    for (const { areaMm2, ohmPerMetre } of METRIC_GAUGES) {
      const ratio = ohmPerMetre / (1 / 58 / areaMm2);
      expect(ratio).toBeGreaterThan(1.05);
      expect(ratio).toBeLessThan(1.2);
    }
  });
  it('counts the wire there and back, and recommends the thinnest that fits', () => {
    const { rows, recommended, currentRms } = speakerWire({ loadOhm: 2, powerWatt: 300, lengthMetre: 4 }, METRIC_GAUGES);
    expect(currentRms).toBeCloseTo(Math.sqrt(150), 12);
    const row = rows.find(({ gauge }) => gauge.name === '2.5 mm²')!;
    expect(row.wireOhm).toBeCloseTo(8 * 0.00798, 12);
    expect(row.levelChangeDb).toBeCloseTo(20 * Math.log10(2 / (2 + 8 * 0.00798)), 12);
    expect(row.lostWatt / 300).toBeCloseTo((8 * 0.00798 * 2) / (2 + 8 * 0.00798) ** 2, 12);
    expect(recommended!.name).toBe('2.5 mm²');
  });
  it('takes a thicker one where the current asks for it', () => {
    // A short run: 5 % of the load would allow 1 mm², 22 A does not.
    expect(speakerWire({ loadOhm: 2, powerWatt: 1000, lengthMetre: 1 }, METRIC_GAUGES).recommended!.name).toBe('4 mm²');
  });
  it('recommends none where none fits', () => {
    expect(speakerWire({ loadOhm: 0.25, powerWatt: 5000, lengthMetre: 8 }, AWG_GAUGES).recommended).toBeUndefined();
  });
});

describe('the ends of a wire', () => {
  it.each([
    // 12 AWG is 3.31 mm² (ASTM B258): a ferrule of 4, two of them one of 10; a terminal for 10 mm² takes three.
    [awgAreaMm2(12), 4, 10, 3],
    [2.5, 2.5, 6, 4],
    [4, 4, 10, 2],
    [16, 16, undefined, 0],
  ])('of %d mm² want a ferrule of %d, a pair one of %s, and %d go into 10 mm²', (area, one, two, inTen) => {
    const ends = wireEnds(area);
    expect(ends.ferruleMm2).toBe(one);
    expect(ends.pairFerruleMm2).toBe(two);
    expect(ends.terminals.find(({ areaMm2 }) => areaMm2 === 10)?.wires).toBe(inTen);
  });
});
