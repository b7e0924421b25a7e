/** A skinned shape without what some of its joints move. */

/**
 * The triangles whose corners hang, taken together, by less than half on joints that are left out.
 * @param triangles three vertices each
 * @param joints `influences` a vertex, numbers in the skin; `weights` beside them
 * @param isOut whether a joint of the skin is left out
 */
export function trianglesWithout(
  triangles: ArrayLike<number>,
  joints: ArrayLike<number>,
  weights: ArrayLike<number>,
  influences: number,
  isOut: (joint: number) => boolean,
): Uint32Array {
  const share = (v: number) => {
    let [out, all] = [0, 0];
    for (let k = v * influences; k < (v + 1) * influences; k++) {
      all += weights[k];
      if (weights[k] > 0 && isOut(joints[k])) out += weights[k];
    }
    return all > 0 ? out / all : 0;
  };
  const kept: number[] = [];
  for (let i = 0; i + 2 < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]];
    if (share(a) + share(b) + share(c) < 1.5) kept.push(a, b, c);
  }
  return Uint32Array.from(kept);
}
