import { SphereGeometry, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { leastGrowth } from './growth';
import { Blocker, leaksOf, placesOn } from './leaks';

const ball = (radiusM: number) => {
  const g = new SphereGeometry(radiusM, 96, 64);
  return new Blocker(Float32Array.from(g.getAttribute('position').array), Uint32Array.from(g.index?.array ?? []));
};

describe('the least growth', () => {
  // a small ball straight behind a wearer of 100 mm, whose occluder is 5 mm smaller: seen through its rim
  const eye = new Vector3(0, 0, 1);
  const wearer = ball(0.1);
  const behind = (x: number) => {
    const g = new SphereGeometry(0.004, 16, 12).translate(x, 0, -0.12);
    return placesOn([
      { positions: Float32Array.from(g.getAttribute('position').array), triangles: Uint32Array.from(g.index?.array ?? []) },
    ]) as NonNullable<ReturnType<typeof placesOn>>;
  };
  /** Where the edge of a ball's shadow is at that depth, by the closed form. */
  const edge = (radiusM: number) => 1.12 * Math.tan(Math.asin(radiusM / 1));
  const judge = (part: ReturnType<typeof behind>) => async (growMm: number) => {
    const { leak, swallowed } = leaksOf(part, wearer, [ball(0.095 + growMm / 1000)], eye);
    return { leak, swallowed };
  };
  test('reaches as far as the outermost of what a wearer hides, and no further', async () => {
    const x = edge(0.1) - 0.0045;
    const told = await leastGrowth(judge(behind(x)), 0);
    expect(told.stops).toBe(true);
    // its outer rim is 4 mm further out than its middle; a hundredth of it may leak
    const needed = (Math.sin(Math.atan((x + 0.004) / 1.12)) - 0.095) * 1000;
    expect(told.growMm).toBeLessThanOrEqual(needed + 0.2);
    expect(told.growMm).toBeGreaterThan(needed - 1);
    expect(told.after.leak).toBeLessThanOrEqual(0.01);
    expect(told.before.leak).toBeGreaterThan(0.5);
    expect((await judge(behind(x))(told.growMm - 0.2)).leak).toBeGreaterThan(0.01);
  });
  test('where nothing leaks it takes growth back; what it swallows is told', async () => {
    const told = await leastGrowth(judge(behind(0)), 8);
    expect(told).toMatchObject({ growMm: 0, stops: true });
    const beside = await leastGrowth(judge(behind(edge(0.1) + 0.0045)), 10);
    expect(beside.growMm).toBe(0);
    expect(beside.before.swallowed).toBeGreaterThan(0.5);
    expect(beside.after.swallowed).toBe(0);
  });
  test('what no growth stops is said, with the growth that leaks least', async () => {
    const told = await leastGrowth(async (mm) => ({ leak: 0.5 - mm / 100, swallowed: mm / 10 }), 3);
    expect(told).toMatchObject({ growMm: 12, stops: false, before: { leak: 0.47 } });
    const same = await leastGrowth(async () => ({ leak: 0.5, swallowed: 0 }), 3);
    expect(same).toMatchObject({ growMm: 0, stops: false });
  });
});
