'use client';
import type { FileFacts } from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';

export type Cell = [label: string, value: string, unit?: string];

const ALPHA = { none: 'none', 'cut-out': 'cut out', soft: 'soft' };
const mm = (x: number) => showCount(Number(x.toFixed(x < 1000 ? 1 : 0)));
const bearing = (deg: number) => `${Math.abs(deg).toFixed(0)}° ${deg < 0 ? 'to picture left' : 'to picture right'}`;

/** The figures of a file that is no model. */
export function cellsOf(f: Exclude<FileFacts, { kind: 'model' }>): Cell[] {
  const bytes: Cell = ['Bytes', showCount(f.bytes)];
  const format: Cell = ['Format', f.format === 'frames' ? 'frames' : f.format.toUpperCase()];
  switch (f.kind) {
    case 'picture':
      return [
        ['Pixels', `${f.width} × ${f.height}`],
        ['Size', `${mm(f.sizeMm[0])} × ${mm(f.sizeMm[1])}`, 'mm'],
        ['Alpha', ALPHA[f.alpha], f.alphaWidthPx === null ? undefined : `parts of ${f.alphaWidthPx.toFixed(0)} px`],
        ['Look', f.look],
        ['Colours', f.space, `${f.bitsPerChannel} bits${f.profile ? `, ${f.profile}` : ''}`],
        ...(f.usedBytes === f.bytes
          ? []
          : [['Used as', f.type.replace('image/', '').toUpperCase(), `${showMegabytes(f.usedBytes)} MB`] as Cell]),
        bytes,
        format,
      ];
    case 'sequence':
      return [
        ['Frames', showCount(f.frames)],
        ['Pixels', `${f.width} × ${f.height}`],
        ['Plays', `${f.seconds}`, `s${f.loop ? ', looping' : ', once'}`],
        ['Alpha', ALPHA[f.alpha]],
        ['Sheet', `${f.sheet.width} × ${f.sheet.height}`, `px, ${f.sheet.columns} by ${f.sheet.rows}`],
        ['Drawn at', f.sheet.scale === 1 ? 'every pixel' : `${Math.round(f.sheet.scale * 100)} %`],
        ['Weight', showMegabytes(f.sheet.bytes), 'MB'],
        format,
      ];
    case 'sound':
      return [
        ['Length', f.seconds.toFixed(2), 's'],
        ['Channels', f.channels === 1 ? 'one' : f.channels === 2 ? 'two' : String(f.channels)],
        ['Rate', showCount(f.sampleRate), 'Hz'],
        ['Loudness', f.loudnessLufs === null ? '—' : f.loudnessLufs.toFixed(1).replace('-', '−'), 'LUFS'],
        ['Peak', f.peakDb === null ? '—' : f.peakDb.toFixed(1).replace('-', '−'), 'dB'],
        ['Codec', f.codec],
        bytes,
        format,
      ];
    case 'environment':
      return [
        ['Pixels', `${f.width} × ${f.height}`],
        ['Exposure', f.exposureEv.toFixed(1).replace('-', '−'), 'stops from a mean of 1'],
        ['Range', f.rangeEv.toFixed(0), 'stops'],
        [
          'Brightest',
          bearing(f.brightest.bearingDeg),
          `${f.brightest.heightDeg.toFixed(0)}° high, ${Math.round(f.brightest.share * 100)} % of the light`,
        ],
        bytes,
        format,
      ];
    case 'motion':
      return [
        ['Joints', String(f.joints.length)],
        ['Height', mm(f.heightMm), 'mm'],
        ['Clips', String(f.clips.length)],
        ...f.clips.slice(0, 1).flatMap((c): Cell[] => [
          ['Length', c.seconds.toFixed(2), 's'],
          ['Frames', showCount(c.frames), `at ${c.fps} a second`],
          ['Root travels', mm(c.rootMm), 'mm'],
          ['Gap of its loop', c.loopDeg.toFixed(0), c.loopDeg > 0 ? `° at ${c.loopJoint}` : '°'],
        ]),
        format,
      ];
    case 'footage':
      return [
        ['Pixels', `${f.width} × ${f.height}`],
        ['Length', f.seconds.toFixed(2), 's'],
        ['Rate', String(f.fps), 'frames a second'],
        ['Sound', f.sound ? 'yes' : 'none'],
        ['Codec', f.codec],
        bytes,
        format,
      ];
  }
}

export function Cells({ cells }: { cells: Cell[] }) {
  return (
    <dl className="flex flex-wrap gap-y-2 py-1.5 border-y border-[color:var(--hair)]">
      {cells.map(([k, v, more], i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a fixed list of cells
        <div key={i} className={`pr-3 ${i ? 'pl-3 border-l border-[color:var(--sheet-hair)]' : ''}`}>
          <dt className="text-micro soft">{k}</dt>
          <dd className={`${/^[\d\s.×−—%]+$/.test(v) ? 'num' : ''} text-[13px] leading-4 font-medium`} data-fact={k.toLowerCase()}>
            {v}
            {more && <span className="unit">{more}</span>}
          </dd>
        </div>
      ))}
    </dl>
  );
}
