/** Through which lens a simulated wearer is seen: from how far, how wide, in a picture of what shape, mirrored or not. */
import { BODY_CAMERA, type HandCamera, MIRROR_CAMERA } from './frame';

/** Side to up of a picture. */
export const PICTURE_SHAPES = { '9:16': [9, 16], '3:4': [3, 4], '1:1': [1, 1], '4:3': [4, 3], '16:9': [16, 9] } as const;
export type PictureShape = keyof typeof PICTURE_SHAPES;

export interface LensView {
  /** From the middle of the face, or of the body, metres. */
  distanceM: number;
  /** Upright. */
  fovDeg: number;
  shape: PictureShape;
  /** As a mirror shows it: the wearer's left at the picture's left. What is sent to others is not. */
  mirrored: boolean;
}

/** A portrait from a step away; a phone held out by the wearer, or by somebody before them (24 mm lenses, upright; *from memory*). */
export const LENSES = {
  portrait: { distanceM: 1.05, fovDeg: 29, shape: '9:16', mirrored: false },
  front: { distanceM: 0.45, fovDeg: 70, shape: '9:16', mirrored: true },
  back: { distanceM: 1.2, fovDeg: 70, shape: '9:16', mirrored: false },
} as const satisfies Record<string, LensView>;
export type LensName = keyof typeof LENSES;

/** Nearer than this there is no room for a nose; farther nobody is seen. */
export const LENS_RANGE = { distanceM: [0.15, 20], fovDeg: [5, 120] } as const;
const LONG_PX = 1280;

/** The camera of a view. @param whole the body is looked at, not the face */
export function lensCamera({ distanceM, fovDeg, shape }: LensView, whole = false): HandCamera {
  const { positionM, targetM } = whole ? BODY_CAMERA : MIRROR_CAMERA;
  const way = positionM.map((x, k) => x - targetM[k]);
  const long = Math.hypot(...way);
  const at = targetM.map((x, k) => x + (way[k] / long) * distanceM) as [number, number, number];
  const [side, up] = PICTURE_SHAPES[shape];
  const dots = LONG_PX / Math.max(side, up);
  return { positionM: at, targetM, fovDeg, widthPx: Math.round(side * dots), heightPx: Math.round(up * dots) };
}
