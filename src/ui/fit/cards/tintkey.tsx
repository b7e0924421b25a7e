/** What the tints of a part on its wearer say. */
import { TINTS } from '@/core/fit/tints';

export function TintKey() {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 mt-2 text-micro soft">
      {TINTS.map(({ color, words }) => (
        <span key={color} className="flex items-center gap-1">
          <span className="inline-block w-4 h-3 border border-[color:var(--ink)]" style={{ background: color }} />
          {words}
        </span>
      ))}
      <span className="num">mm</span>
    </div>
  );
}
