/** Length of a tape drawn tight round points of a plane: of their convex hull (monotone chain, Andrew 1979). */
export function hullLength(points: [number, number][]): number {
  const sorted = [...points].sort((a, c) => a[0] - c[0] || a[1] - c[1]);
  const half = (list: [number, number][]) => {
    const h: [number, number][] = [];
    for (const p of list) {
      while (h.length > 1) {
        const a = h[h.length - 2];
        const c = h[h.length - 1];
        if ((c[0] - a[0]) * (p[1] - a[1]) - (c[1] - a[1]) * (p[0] - a[0]) <= 0) h.pop();
        else break;
      }
      h.push(p);
    }
    h.pop();
    return h;
  };
  const hull = [...half(sorted), ...half([...sorted].reverse())];
  return hull.reduce((sum, p, i) => {
    const q = hull[(i + 1) % hull.length];
    return sum + Math.hypot(p[0] - q[0], p[1] - q[1]);
  }, 0);
}
