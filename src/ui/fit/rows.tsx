'use client';
/** The rows of one anchor: all of them where they are few. */
import { lazily } from '../kit/lazily';
import { dropOn, type RowsProps, Tag } from './tag';

/** More rows than this are drawn where they are seen. */
const FEW = 60;
const ManyRows = lazily(() => import('./manyrows'), 'ManyRows');

export function Rows(props: RowsProps) {
  return props.rows.length <= FEW ? (
    props.rows.map(({ part, depth }) => <Tag key={part.id} part={part} depth={depth} dropAt={dropOn(props.over, part)} />)
  ) : (
    <ManyRows {...props} />
  );
}
