/** Which option of each picture, with bytes that are left. */
import { expect, describe as group, it } from 'vitest';
import { type Assignment, addBetween, assignments, picturesBytes, raised, type TextureChoices } from './textures';

/** A picture with options of so many bytes and such a loss, the dearest first. */
const picture = (share: number, options: readonly (readonly [bytes: number, loss: number])[]): TextureChoices => ({
  name: '',
  sha: '',
  at: 0,
  share,
  options: options.map(([bytes, loss]) => ({ encoding: null, bytes, edge: 64, loss, mip: null as never })),
  attempt: async () => null,
});
const of = (choices: readonly TextureChoices[], steps: readonly number[]): Assignment => choices.map((c, i) => c.options[steps[i]]);
/** Which option it is of each, from 0. */
const stepsOf = (choices: readonly TextureChoices[], pick: Assignment) => choices.map((c, i) => c.options.indexOf(pick[i]));
const raise = (choices: readonly TextureChoices[], from: readonly number[], room: number) =>
  stepsOf(choices, raised(choices, of(choices, from), room));
const label = picture(0.01, [
  [1_000, 0],
  [300, 0.05],
  [50, 0.4],
]);
const hull = picture(0.9, [
  [4_000, 0],
  [900, 0.02],
  [200, 0.1],
]);

group('pictures made better with what is left', () => {
  it('the one that loses most by itself comes first, however small it is in the view', () => {
    expect(raise([label, hull], [2, 2], 600)).toEqual([1, 2]);
    expect(raise([hull, label], [2, 2], 600)).toEqual([2, 1]);
  });
  it('as far as it can be helped; then the next', () => {
    expect(raise([label, hull], [2, 2], 1_199)).toEqual([1, 2]);
    expect(raise([label, hull], [2, 2], 1_200)).toEqual([1, 1]);
    expect(raise([label, hull], [2, 2], 1_900)).toEqual([0, 1]);
    expect(raise([label, hull], [2, 2], 5_000)).toEqual([0, 0]);
  });
  it('without room nothing changes; what is not seen comes last', () => {
    expect(raise([label, hull], [2, 2], 252)).toEqual([2, 2]);
    expect(
      raise(
        [
          picture(0, [
            [1_000, 0],
            [10, 0.9],
          ]),
          hull,
        ],
        [1, 2],
        920,
      ),
    ).toEqual([1, 1]);
  });
  it('each begins at a multiple of four bytes', () => expect(picturesBytes([label.options[1], picture(1, [[5, 0]]).options[0]])).toBe(308));
  it('the way down frees most bytes for the loss first, and ends at the lightest of all', () => {
    const all = assignments([label, hull], [1, 1]);
    expect(stepsOf([label, hull], all[0].pick)).toEqual([0, 0]);
    expect(stepsOf([label, hull], all[all.length - 1].pick)).toEqual([2, 2]);
    for (let i = 1; i < all.length; i++) expect(all[i].bytes).toBeLessThan(all[i - 1].bytes);
  });
});

group('a quality between two', () => {
  const option = (quality: number, bytes: number, loss: number) => ({
    encoding: { maxEdge: 64, format: 'webp' as const, quality },
    bytes,
    edge: 64,
    loss,
    mip: null as never,
  });
  /** Bytes and loss go with the quality. */
  const sail = () => {
    const asked: number[] = [];
    const attempt: TextureChoices['attempt'] = async ({ quality }) => {
      asked.push(quality);
      return option(quality, quality * 100, 1 - quality / 100);
    };
    const c: TextureChoices = { ...picture(1, []), options: [option(90, 9_000, 0.1), option(50, 5_000, 0.5)], attempt };
    return { c, asked };
  };
  it('is half way, and lies between them', async () => {
    const { c } = sail();
    expect(await addBetween(c, c.options[1], 4_000)).toBe(true);
    expect(c.options.map((o) => o.encoding?.quality)).toEqual([90, 70, 50]);
  });
  it('or less, where that would not fit; nothing where none does', async () => {
    const { c, asked } = sail();
    expect(await addBetween(c, c.options[1], 1_000)).toBe(true);
    expect(c.options.map((o) => o.encoding?.quality)).toEqual([90, 60, 50]);
    expect(asked).toEqual([70, 60]);
    const none = sail();
    expect(await addBetween(none.c, none.c.options[1], 10)).toBe(false);
    expect(none.c.options).toHaveLength(2);
  });
  it('of the best there is none better, nor of what is not worth its bytes', async () => {
    const { c } = sail();
    expect(await addBetween(c, c.options[0], 4_000)).toBe(false);
    const dear: TextureChoices = { ...c, attempt: async () => option(70, 9_500, 0.3) };
    expect(await addBetween(dear, dear.options[1], 10_000)).toBe(false);
  });
});
