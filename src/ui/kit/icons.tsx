/** Our own marks for anchors and vocabulary, 24 grid, 1.6 stroke. Plain acts come from lucide. */
import type { ReactNode } from 'react';

const OWN = {
  head: (
    <>
      <path d="M7 21v-3.2C5 16 4 13.6 4 10.8 4 6 7.4 3 12 3s8 3 8 7.8c0 2.8-1 5.2-3 7V21" />
      <path d="M4 11h16" strokeDasharray="2 2" />
    </>
  ),
  occluder: (
    <>
      <path d="M12 3c5 0 8 3.5 8 9s-3 9-8 9-8-3.5-8-9 3-9 8-9Z" />
      <path d="m6 18 12-12M4.5 13 13 4M11 20.5l8.5-8.5" />
    </>
  ),
  part: (
    <>
      <path d="m3 12 5-6h13v12H8Z" />
      <circle cx="9" cy="12" r="1.2" />
    </>
  ),
  form: <path d="M8 15.500C5.800 14 5 11.800 5 9.500 5 5.500 8 3 12 3s7 2.500 7 6.500c0 2.300-.8 4.500-3 6V18H8ZM7 21h10M12 3v15" />,
  facepoint: (
    <>
      <path d="M12 3c4.6 0 7 3 7 8 0 5.600-3.200 10-7 10s-7-4.400-7-10c0-5 2.400-8 7-8Z" />
      <circle cx="12" cy="10.500" r="2.200" />
      <path d="M12 6v2M12 13v2M7.500 10.500h2M14.500 10.500h2" />
    </>
  ),
  neck: (
    <>
      <path d="M8 3v7c0 3-5 4-6 9M16 3v7c0 3 5 4 6 9" />
      <path d="M8 9c2 2 6 2 8 0" />
    </>
  ),
  shoulders: (
    <>
      <path d="M2 20c0-5 3-7 7-8V8h6v4c4 1 7 3 7 8" />
      <path d="M7 20v-3M17 20v-3" strokeDasharray="2 1.5" />
    </>
  ),
  screen: (
    <>
      <rect x="6" y="2.5" width="12" height="19" rx="1" />
      <path d="M9 5.5h6M9 18.5h6" strokeDasharray="2 1.5" />
    </>
  ),
  matte: (
    <>
      <path d="M4 4h16v16H4Z" />
      <path d="M12 4c-3 3 3 5 0 8s3 5 0 8M14 7h4M15 11h3M14 15h4" />
    </>
  ),
  stacking: (
    <>
      <path d="M3 8 12 4l9 4-9 4Z" />
      <path d="m3 12 9 4 9-4" strokeDasharray="3 2" />
      <path d="m3 16 9 4 9-4" />
    </>
  ),
  solid: (
    <>
      <path d="M4 8v9l8 4 8-4V8" />
      <path d="M4 8l8-4 8 4-8 4Z" />
    </>
  ),
  group: (
    <>
      <path d="M12 3v6M5 15v-3c0-2 1-3 3-3h8c2 0 3 1 3 3v3" />
      <circle cx="5" cy="18" r="2.6" />
      <circle cx="12" cy="18" r="2.6" />
      <circle cx="19" cy="18" r="2.6" />
    </>
  ),
  lead: (
    <>
      <path d="M12 2v12" />
      <path d="M9.500 14h5L16 21H8Z" />
    </>
  ),
} satisfies Record<string, ReactNode>;

export type OwnIcon = keyof typeof OWN;

export function Mark({ name, className = '' }: { name: OwnIcon; className?: string }) {
  return (
    <svg
      className={`ico ${className}`}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth={1.6}
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden="true"
    >
      {OWN[name]}
    </svg>
  );
}

/** The boat of the house. */
export function Boat({ size = 26 }: { size?: number }) {
  return (
    <svg width={size} height={(size * 22) / 26} viewBox="0 0 26 22" aria-hidden="true">
      <path d="M1 9c7 3.500 17 3.500 24-.5-1 6-3.500 10-7 10.500H8C4.500 18.500 2 15 1 9Z" fill="var(--ink)" />
      <path d="M9 9.500V1.500l8 6.500" fill="none" stroke="var(--brass)" strokeWidth={1.6} />
      <path d="M4 14h17" stroke="var(--brass-bright)" strokeWidth={1.3} />
    </svg>
  );
}
