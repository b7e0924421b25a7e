'use client';
import { useState } from 'react';
import { bytesWithMips, type StockFacts } from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';

const FORMAT: Record<StockFacts['format'], string> = {
  glb: 'GLB',
  gltf: 'glTF',
  fbx: 'FBX',
  obj: 'OBJ',
  collada: 'COLLADA',
  ply: 'PLY',
  stl: 'STL',
  '3ds': '3DS',
  off: 'OFF',
  x: 'X',
};

/** What a file holds: the figures, then shapes and pictures with the heaviest first. */
export function Contents({ facts, onLook }: { facts: StockFacts; onLook: () => void }) {
  const [open, setOpen] = useState(false);
  const largest = facts.textures.reduce((m, t) => Math.max(m, t.width, t.height), 0);
  const cells: [string, string, string?][] = [
    ['Triangles', showCount(facts.triangles)],
    ['Vertices', showCount(facts.vertices)],
    ['Materials', showCount(facts.materials)],
    ['Pictures', showCount(facts.textures.length), largest ? `up to ${largest} px` : undefined],
    ['Bones', showCount(facts.bones)],
    ...(facts.morphs.length > 0 ? [['Morph targets', showCount(facts.morphs.length)] as [string, string]] : []),
    ...(facts.points > 0 ? [['Points', showCount(facts.points)] as [string, string]] : []),
    ...(facts.lines > 0 ? [['Lines', showCount(facts.lines)] as [string, string]] : []),
    ['Clips', showCount(facts.clips.length), facts.clips.length ? `${facts.clips[0].seconds} s` : undefined],
    ['Bytes', showCount(facts.bytes)],
    ['Format', FORMAT[facts.format]],
  ];
  return (
    <>
      <dl className="flex flex-wrap mt-2.5 py-1.5 border-y border-[color:var(--hair)]">
        {cells.map(([k, v, more], i) => (
          <div key={k} className={`pr-3 ${i ? 'pl-3 border-l border-[color:var(--sheet-hair)]' : ''}`}>
            <dt className="text-micro soft">{k}</dt>
            <dd className="num text-[13px] leading-4 font-medium" data-fact={k.toLowerCase()}>
              {v}
              {more && <span className="unit">{more}</span>}
            </dd>
          </div>
        ))}
      </dl>
      {(facts.cannotCarry || facts.unitRecord) && (
        <p className="text-micro soft pt-1">{[facts.unitRecord && `${facts.unitRecord}.`, facts.cannotCarry].filter(Boolean).join(' ')}</p>
      )}
      <button type="button" className="link text-small mt-1" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Hide' : 'Show'} shapes, pictures and clips
      </button>
      {facts.textures.length > 0 && (
        <button type="button" className="link text-small mt-1 ml-4" onClick={onLook}>
          Look into its pictures
        </button>
      )}
      {open && (
        <div className="grid gap-3 mt-1" style={{ gridTemplateColumns: '1fr 1fr' }}>
          <Table
            caption="Shapes"
            head={['Shape', 'Triangles', 'Share']}
            rows={facts.meshList.map((m) => [
              m.name,
              showCount(m.triangles),
              percent(m.triangles, sum(facts.meshList.map((x) => x.triangles))),
            ])}
          />
          <Table
            caption="Pictures"
            head={['Picture', 'MB', 'Memory, MB']}
            rows={[...facts.textures]
              .sort((a, b) => b.bytes - a.bytes)
              .map((t) => [
                `${t.name} · ${t.width} × ${t.height}`,
                showMegabytes(t.bytes),
                showMegabytes(bytesWithMips(t.width, t.height)),
              ])}
          />
          {facts.clips.length > 0 && (
            <Table
              caption="Clips"
              head={['Clip', 'Seconds', 'Keys']}
              rows={facts.clips.map((c, i) => [c.name, String(c.seconds), showCount(facts.clipKeys[i] ?? 0)])}
            />
          )}
        </div>
      )}
    </>
  );
}

const sum = (list: number[]) => list.reduce((s, x) => s + x, 0);
const percent = (n: number, of: number) => (of > 0 ? `${Math.round((n / of) * 100)} %` : '—');

function Table({ caption, head, rows }: { caption: string; head: [string, string, string]; rows: string[][] }) {
  return (
    <table className="ledger self-start" aria-label={caption} style={{ tableLayout: 'fixed' }}>
      <thead>
        <tr>
          <th style={{ width: '56%' }}>{head[0]}</th>
          <th className="r">{head[1]}</th>
          <th className="r">{head[2]}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: names repeat in files
          <tr key={i}>
            <td className="truncate" title={r[0]}>
              {r[0]}
            </td>
            <td className="r">{r[1]}</td>
            <td className="r">{r[2]}</td>
          </tr>
        ))}
        {rows.length === 0 && (
          <tr>
            <td className="soft" colSpan={3}>
              none
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
