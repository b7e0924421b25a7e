'use client';
import { type PointerEvent, useRef, useState } from 'react';

const round = (deg: number) => ((deg % 360) + 360) % 360;
/** Degrees a pixel of drag turns. */
const PER_PX = 0.6;

/** A thing turned by dragging the view it stands in; what can be pressed in it is no handle. */
export function useTurning(startDeg = 26) {
  const [headingDeg, setHeading] = useState(startDeg);
  const drag = useRef<{ x: number; from: number } | null>(null);
  return {
    headingDeg,
    setHeading: (deg: number) => setHeading(round(deg)),
    turn: (by: number) => setHeading((h) => round(h + by)),
    handlers: {
      onPointerDown: (e: PointerEvent<HTMLElement>) => {
        if ((e.target as HTMLElement).closest('button, input, select, [role=slider]')) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { x: e.clientX, from: headingDeg };
      },
      onPointerMove: (e: PointerEvent<HTMLElement>) => {
        if (drag.current) setHeading(round(drag.current.from + (e.clientX - drag.current.x) * PER_PX));
      },
      onPointerUp: () => {
        drag.current = null;
      },
    },
  };
}
