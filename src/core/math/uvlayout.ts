/** UV layouts as drawings to paint upon. */

export interface UvShape {
  name: string;
  /** Two numbers a vertex, v downwards as in glTF. */
  uvs: ArrayLike<number>;
  triangles: ArrayLike<number>;
}

/** Most edges that are drawn; a layout with more is black anyway. */
const MOST_EDGES = 400_000;

/** The edges of a layout, each once: four numbers (u, v, u, v), 0..1. */
export function uvEdges({ uvs, triangles }: UvShape): number[] {
  const seen = new Set<number>();
  const out: number[] = [];
  const vertices = uvs.length / 2;
  for (let t = 0; t + 2 < triangles.length && out.length < MOST_EDGES * 4; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [triangles[t + k], triangles[t + ((k + 1) % 3)]];
      const key = Math.min(a, b) * vertices + Math.max(a, b);
      if (seen.has(key)) continue;
      seen.add(key);
      const edge = [uvs[a * 2], uvs[a * 2 + 1], uvs[b * 2], uvs[b * 2 + 1]];
      if (edge.every(Number.isFinite)) out.push(...edge);
    }
  return out;
}

const INKS = ['#14283a', '#6d2f5b', '#2f3e8f', '#5c6a1f', '#7a4a16'];
export const inkOf = (shape: number): string => INKS[shape % INKS.length];

const escapeXml = (s: string) => s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] as string);

/** The layout as an SVG of `size` × `size` pixels: one group a shape, thin lines on a clear ground. */
export function uvLayoutSvg(shapes: readonly UvShape[], size: number): string {
  const groups = shapes.map((s, i) => {
    const e = uvEdges(s);
    const parts: string[] = [];
    for (let k = 0; k < e.length; k += 4)
      parts.push(
        `M${(e[k] * size).toFixed(2)} ${(e[k + 1] * size).toFixed(2)}L${(e[k + 2] * size).toFixed(2)} ${(e[k + 3] * size).toFixed(2)}`,
      );
    return `<g id="${escapeXml(s.name)}" fill="none" stroke="${inkOf(i)}" stroke-width="${(size / 1024).toFixed(2)}"><path d="${parts.join('')}"/></g>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${size}" height="${size}" viewBox="0 0 ${size} ${size}">${groups.join('')}</svg>\n`;
}
