import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { voltageFactor, voltageRatioDb } from '../../levels/decibels.ts';
import { cleanLimit, type DrivenLook } from './cleanLimit.ts';

const look = (drive: number, overDb?: number): DrivenLook => ({ drive, isClean: overDb === undefined, overDb: overDb ?? 0 });

describe('how far a stage may be driven', () => {
  it.each([
    ['nothing was flat', [look(10)], undefined],
    ['it was clean as high since', [look(10, 1), look(10.5)], undefined],
    ['it was flat by a decibel', [look(10, 1)], 10 * voltageFactor(-1)],
    ['clean was seen at the estimate', [look(10, 1), look(9)], 9],
    ['clean lies far below a deep look', [look(10, 4), look(6.3)], 6.3 * voltageFactor(voltageRatioDb(10, 6.3) / 2)],
    ['flat where it was clean before: something was changed', [look(9), look(8, 0.5)], 8 * voltageFactor(-0.5)],
  ])('where %s', (_, looks, limit) => {
    if (limit === undefined) expect(cleanLimit(looks)).toBeUndefined();
    else expect(cleanLimit(looks)).toBeCloseTo(limit, 6);
  });

  it('is found within ten looks by going to where it says, whatever its rails and however wrong an estimate is', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 5, max: 60, noNaN: true }),
        fc.double({ min: 0, max: 8, noNaN: true }),
        fc.double({ min: -1.5, max: 1.5, noNaN: true }),
        (rail, startDb, wrongDb) => {
          const looks: DrivenLook[] = [];
          let drive = rail * voltageFactor(startDb);
          for (let n = 0; n < 10; n += 1) {
            const overDb = voltageRatioDb(drive, rail);
            looks.push(overDb <= 0 ? look(drive) : look(drive, Math.max(0, overDb + (overDb > 1 ? wrongDb : 0))));
            const next = cleanLimit(looks);
            if (next === undefined || Math.abs(voltageRatioDb(next, drive)) < 0.05) break;
            drive = next;
          }
          const left = voltageRatioDb(drive, rail);
          // Never over; below by no more than an estimate of a shallow look was wrong.
          expect(left).toBeLessThan(0.05);
          expect(left).toBeGreaterThan(-2);
        },
      ),
    );
  });
});
