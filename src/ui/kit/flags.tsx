/** Findings as flags: shape, word and colour. */
export type FlagKind = 'blocker' | 'warning' | 'note' | 'done' | 'waits';

export function Flag({ kind, size = 14 }: { kind: FlagKind; size?: number }) {
  return (
    <svg viewBox="0 0 16 16" width={size} height={size} aria-hidden="true" className="flex-none">
      {kind === 'waits' ? (
        <circle cx="8" cy="8" r="6" fill="none" stroke="var(--ink-2)" strokeWidth={1.4} strokeDasharray="2.6 2.1" />
      ) : kind === 'done' ? (
        <>
          <circle cx="8" cy="8" r="6.6" fill="var(--sea)" />
          <path d="m4.800 8.200 2.300 2.300 4.200-4.800" fill="none" stroke="var(--color-base-100)" strokeWidth={1.7} />
        </>
      ) : (
        <path d="M2.500 1v14" stroke="var(--ink)" strokeWidth={1.4} />
      )}
      {kind === 'blocker' && (
        <>
          <rect x="3.2" y="1.6" width="11.3" height="8.8" fill="var(--vermilion)" />
          <rect x="7" y="4.4" width="3.8" height="3.2" fill="var(--color-base-100)" />
        </>
      )}
      {kind === 'warning' && (
        <path
          d="M3.200 1.600 14.800 6 3.200 10.400Z"
          fill="var(--flag-yellow)"
          stroke="var(--ink)"
          strokeWidth={0.9}
          strokeLinejoin="round"
        />
      )}
      {kind === 'note' && <circle cx="8.4" cy="6" r="4.2" fill="var(--color-base-100)" stroke="var(--color-info)" strokeWidth={1.8} />}
    </svg>
  );
}

export function FlagLabel({ kind, children, light = false }: { kind: FlagKind; children?: React.ReactNode; light?: boolean }) {
  return (
    <span className="flag" style={light ? { fontWeight: 450 } : undefined}>
      <Flag kind={kind} />
      {children}
    </span>
  );
}

/** Counts by level, or a clear sign. */
export function FlagCounts({ counts }: { counts: { blocker: number; warning: number; note: number } }) {
  const shown = (['blocker', 'warning', 'note'] as const).filter((k) => counts[k] > 0);
  if (shown.length === 0)
    return (
      <FlagLabel kind="done" light>
        Clear
      </FlagLabel>
    );
  return (
    <span className="inline-flex gap-2">
      {shown.map((k) => (
        <span key={k} className="flag" title={`${counts[k]} ${k}${counts[k] > 1 ? 's' : ''}`}>
          <Flag kind={k} />
          <b className="num font-semibold">{counts[k]}</b>
        </span>
      ))}
    </span>
  );
}
