'use client';
import type { SequenceFacts } from '@/core/intake';
import { framePlace } from '@/core/prepare';
import { useSize } from '../../kit';
import { PlayBar } from './playbar';
import { usePlaying } from './playing';

/** The frames as they play, cut from the sheet itself. */
export function SequencePane({ url, name, facts }: { url: string; name: string; facts: SequenceFacts }) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const { playing, timeS, play, seek } = usePlaying(facts.seconds, facts.loop);
  const frame = Math.min(facts.frames - 1, Math.floor(timeS * facts.fps + 1e-6));
  const { sheet } = facts;
  const scale = Math.min((width - 24) / sheet.frameWidth, (height - 64) / sheet.frameHeight, 6);
  const [x, y] = framePlace(sheet, frame);
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--ink)] flex-none overflow-hidden"
      style={{ height: 300 }}
      data-view="sequence"
      data-frame={frame + 1}
    >
      {width > 0 && (
        <div
          role="img"
          aria-label={`${name}, frame ${frame + 1} of ${facts.frames}`}
          className="absolute"
          style={{
            left: (width - sheet.frameWidth * scale) / 2,
            top: (height - 40 - sheet.frameHeight * scale) / 2,
            width: sheet.frameWidth * scale,
            height: sheet.frameHeight * scale,
            backgroundImage: `url(${url})`,
            backgroundSize: `${sheet.width * scale}px ${sheet.height * scale}px`,
            backgroundPosition: `${-x * scale}px ${-y * scale}px`,
            imageRendering: scale > 2 ? 'pixelated' : 'auto',
          }}
        />
      )}
      <PlayBar
        playing={playing}
        timeS={timeS}
        seconds={facts.seconds}
        step={1 / facts.fps}
        words={`frame ${frame + 1} of ${facts.frames}`}
        onPlay={play}
        onSeek={seek}
      />
    </div>
  );
}
