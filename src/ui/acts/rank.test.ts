import { describe, expect, it } from 'vitest';
import { rank } from './rank';

describe('the finder', () => {
  it('wants every word, anywhere; what begins so comes before what only holds it', () => {
    expect(rank('act Hatch the occluder', 'hatch')).toBeGreaterThan(rank('finding outside 0-1 the chart', 'hatch'));
    expect(rank('finding outside 0-1, what reaches', 'hatch')).toBe(0);
    expect(rank('file divers-helmet.glb', 'helm div')).toBeGreaterThan(0);
    expect(rank('file divers-helmet.glb', 'divers crown')).toBe(0);
    expect(rank('part Box 198', 'box')).toBeGreaterThan(rank('part Sandbox', 'box'));
    expect(rank('anything', ' ')).toBe(1);
  });
});
