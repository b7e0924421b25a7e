import { expect, describe as group, it } from 'vitest';
import type { VisibleError } from '../terms';
import { compareRanks, rankOf } from './rank';

const error = (more: Partial<VisibleError>): VisibleError => ({
  meanMm: 0,
  maxMm: 0,
  normalDeg: 0,
  silhouette: 0,
  ssimWorst: 1,
  worstView: '',
  ...more,
});
const rank = (more: Partial<VisibleError>, pictures: number[] = [], floor?: number) => rankOf(error(more), 0.5, pictures, floor);

group('what is compared', () => {
  it('E comes first, whatever else', () => {
    expect(compareRanks(rank({ maxMm: 2 }), rank({ maxMm: 1.5, meanMm: 0.3, ssimWorst: 0.97 }))).toBeGreaterThan(0);
  });
  it('of the same E the next worst term decides, then the one after it', () => {
    expect(compareRanks(rank({ maxMm: 2, ssimWorst: 0.97 }), rank({ maxMm: 2, ssimWorst: 0.99 }))).toBeGreaterThan(0);
    expect(compareRanks(rank({ maxMm: 2, ssimWorst: 0.97, meanMm: 0.01 }), rank({ maxMm: 2, ssimWorst: 0.97, meanMm: 0.05 }))).toBeLessThan(
      0,
    );
  });
  it('a picture that is small in the view counts by itself', () => {
    expect(compareRanks(rank({ maxMm: 2 }, [0.3, 0]), rank({ maxMm: 2 }, [0.1, 0.1]))).toBeGreaterThan(0);
  });
  it('what differs by under a hundredth is one; what lies under the floor too', () => {
    expect(compareRanks(rank({ maxMm: 2 }), rank({ maxMm: 2.001 }))).toBe(0);
    expect(compareRanks(rank({ maxMm: 0.002 }), rank({ maxMm: 0.008, meanMm: 0.001 }))).toBe(0);
    expect(compareRanks(rank({ maxMm: 0.9 }, [], 1), rank({ maxMm: 0.2 }, [], 1))).toBe(0);
  });
});
