'use client';
import type { FootageFacts } from '@/core/intake';

export function FootagePane({ url, name, facts }: { url: string; name: string; facts: FootageFacts }) {
  return (
    <div className="water border border-[color:var(--ink)] flex-none grid place-items-center" style={{ height: 300 }} data-view="footage">
      {/* biome-ignore lint/a11y/useMediaCaption: a test film as it came */}
      <video
        src={url}
        controls
        loop
        preload="metadata"
        aria-label={`${name}, ${facts.width} by ${facts.height} pixels`}
        style={{ maxWidth: '98%', maxHeight: 288 }}
      />
    </div>
  );
}
