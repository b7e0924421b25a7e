'use client';
/** Many rows of one anchor: those that are seen are drawn, and a little more. */
import { useDndContext } from '@dnd-kit/core';
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import { usePiece } from '../piece/context';
import { dropOn, type RowsProps, Tag } from './tag';

/** Height of a row with the gap above it, px: what is not drawn yet is taken to be so high. */
const ROW_PX = 33;

export function ManyRows({ rows, over, scroll }: RowsProps) {
  const list = useRef<HTMLDivElement>(null);
  const [above, setAbove] = useState(0);
  const { active } = useDndContext();
  const selected = usePiece((s) => s.selected);
  const at = (id: unknown) => (id ? rows.findIndex((r) => r.part.id === id) : -1);
  const [chosen, dragged] = [at(selected), at(active?.id)];
  useEffect(() => setAbove(list.current?.offsetTop ?? 0), []);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW_PX,
    getItemKey: (i) => rows[i].part.id,
    overscan: 8,
    scrollMargin: above,
    initialRect: { width: 260, height: 700 },
    // what is dragged must not vanish under the hand, nor what is chosen, and where the keys lead from it
    rangeExtractor: (range) => {
      const kept = [0, rows.length - 1, dragged, ...(chosen < 0 ? [] : [chosen - 1, chosen, chosen + 1])];
      const there = kept.filter((i) => i >= 0 && i < rows.length);
      return [...new Set([...defaultRangeExtractor(range), ...there])].sort((a, b) => a - b);
    },
  });
  const scrollTo = virtual.scrollToIndex;
  // chosen in a view: it comes into sight
  useEffect(() => {
    if (chosen >= 0) scrollTo(chosen, { align: 'auto' });
  }, [chosen, scrollTo]);
  return (
    <div ref={list} className="relative" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map((item) => {
        const { part, depth } = rows[item.index];
        return (
          <div
            key={item.key}
            ref={virtual.measureElement}
            data-index={item.index}
            className="absolute left-0 right-0 flow-root"
            style={{ top: item.start - above }}
            role="none"
          >
            <Tag part={part} depth={depth} dropAt={dropOn(over, part)} nth={item.index + 1} of={rows.length} />
          </div>
        );
      })}
    </div>
  );
}
