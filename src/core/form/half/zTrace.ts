import { trace } from '../sculpt';
import type { Vec3 } from '../vec';

/** The surface point in front of (x, y). */
export const zTrace = (x: number, y: number): Vec3 => trace([x, y, 20], [x, y, 100], 1.3, 0.2);
