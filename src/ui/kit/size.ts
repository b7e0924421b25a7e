'use client';
import { useEffect, useRef, useState } from 'react';

/** Width and height of an element in CSS pixels, followed. */
export function useSize<T extends HTMLElement>() {
  const ref = useRef<T>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const e = ref.current;
    if (!e) return;
    const look = new ResizeObserver(() => setSize({ width: e.clientWidth, height: e.clientHeight }));
    look.observe(e);
    return () => look.disconnect();
  }, []);
  return { ref, ...size };
}
