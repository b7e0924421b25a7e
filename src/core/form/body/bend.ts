/** A body bent by its joints, as arrays that are made once and used again. */

/** All that is drawn of a body: metres, its own frame, in the rest pose. */
export interface BodySkin {
  positions: Float32Array;
  normals: Float32Array;
  /** Four a vertex, of the 52 joints. */
  skinIndices: Uint16Array;
  skinWeights: Float32Array;
}

/**
 * Linear blend skinning of places and normals.
 * @param carry sixteen numbers a joint, column-major: from where the joint is at rest to where it is
 * @param out three numbers a vertex each
 */
export function bendBody(skin: BodySkin, carry: Float64Array, out: { positions: Float32Array; normals: Float32Array }): void {
  const { positions: p, normals: q, skinIndices, skinWeights } = skin;
  for (let v = 0; v * 3 < p.length; v++) {
    const i = v * 3;
    const [x, y, z, u, w, s] = [p[i], p[i + 1], p[i + 2], q[i], q[i + 1], q[i + 2]];
    let [X, Y, Z, U, W, S] = [0, 0, 0, 0, 0, 0];
    for (let k = v * 4; k < v * 4 + 4; k++) {
      const share = skinWeights[k];
      if (share === 0) continue;
      const a = skinIndices[k] * 16;
      X += share * (carry[a] * x + carry[a + 4] * y + carry[a + 8] * z + carry[a + 12]);
      Y += share * (carry[a + 1] * x + carry[a + 5] * y + carry[a + 9] * z + carry[a + 13]);
      Z += share * (carry[a + 2] * x + carry[a + 6] * y + carry[a + 10] * z + carry[a + 14]);
      U += share * (carry[a] * u + carry[a + 4] * w + carry[a + 8] * s);
      W += share * (carry[a + 1] * u + carry[a + 5] * w + carry[a + 9] * s);
      S += share * (carry[a + 2] * u + carry[a + 6] * w + carry[a + 10] * s);
    }
    const long = Math.sqrt(U * U + W * W + S * S) || 1;
    out.positions[i] = X;
    out.positions[i + 1] = Y;
    out.positions[i + 2] = Z;
    out.normals[i] = U / long;
    out.normals[i + 1] = W / long;
    out.normals[i + 2] = S / long;
  }
}
