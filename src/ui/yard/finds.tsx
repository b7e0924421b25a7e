'use client';
import type { PieceSummary, YardSummary } from '@/api';
import { Found, FoundGroup } from '../acts/finder';
import { useGo } from '../kit';

/** What the finder finds in a yard besides acts. */
export function YardFinds({
  pieces,
  yards,
  here,
  onClose,
}: {
  pieces: readonly PieceSummary[];
  yards: readonly YardSummary[];
  here: string;
  onClose: () => void;
}) {
  const go = useGo();
  const to = (href: string) => () => {
    onClose();
    void go(href);
  };
  return (
    <>
      <FoundGroup heading="Pieces">
        {pieces.map((p) => (
          <Found key={p.id} id={p.id} words={`piece ${p.name}`} onSelect={to(`/piece/${p.id}/${p.reached}`)}>
            <span className="named text-[14px]">{p.name}</span>
          </Found>
        ))}
      </FoundGroup>
      <FoundGroup heading="Yards">
        {yards.flatMap((y) =>
          y.id === here ? (
            []
          ) : (
            <Found key={y.id} id={y.id} words={`yard ${y.name}`} onSelect={to(`/yard/${y.id}`)}>
              {y.name}
            </Found>
          ),
        )}
      </FoundGroup>
    </>
  );
}
