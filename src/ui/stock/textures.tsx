'use client';
import { Download } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { Area, AreaChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { bytesWithMips, type Histogram, type Pixels } from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';
import { computing } from '@/worker/browser';
import { Choice, Dialog } from '../kit';
import { PixelCanvas, pixelsOf } from './preview/pixels';

/** A picture to be looked into: one of a model's, or one of Stock's own. */
export interface TextureSource {
  name: string;
  mime: string;
  blob: Blob;
  users: { material: string; role: string }[];
}

type Channel = 'all' | 'red' | 'green' | 'blue' | 'alpha';
const CHANNELS: [Channel, string][] = [
  ['all', 'Together'],
  ['red', 'Red'],
  ['green', 'Green'],
  ['blue', 'Blue'],
  ['alpha', 'Alpha'],
];
const INDEX: Record<Channel, number> = { all: -1, red: 0, green: 1, blue: 2, alpha: 3 };
const INK: Record<Exclude<Channel, 'all'>, string> = {
  red: 'var(--vermilion)',
  green: 'var(--color-success)',
  blue: 'var(--focus)',
  alpha: 'var(--ink-2)',
};

const drawnOf = (channel: Channel): Exclude<Channel, 'all'>[] => (channel === 'all' ? ['red', 'green', 'blue'] : [channel]);

/** One channel in grey, opaque; all as they are. */
function oneChannel(p: Pixels, channel: Channel): Pixels {
  if (channel === 'all') return p;
  const k = INDEX[channel];
  const data = new Uint8Array(p.data.length);
  for (let i = 0; i < data.length; i += 4) data.set([p.data[i + k], p.data[i + k], p.data[i + k], 255], i);
  return { ...p, data };
}

/** What role a channel plays where a packed map is used. (glTF 2.0, section 3.9.2) */
function channelWords(users: TextureSource['users'], channel: Channel): string {
  const roles = new Set(users.map((u) => u.role));
  if (channel === 'all') return '';
  if (roles.has('roughness and metal') && channel === 'green') return 'roughness';
  if (roles.has('roughness and metal') && channel === 'blue') return 'metal';
  if (roles.has('occlusion') && channel === 'red') return 'occlusion';
  if (roles.has('base colour') && channel === 'alpha') return 'what is seen of it';
  return '';
}

const LOOK_EDGE = 1024;

export function TextureDialog({ title, load, onClose }: { title: string; load: () => Promise<TextureSource[]>; onClose: () => void }) {
  const [list, setList] = useState<TextureSource[] | null>(null);
  const [error, setError] = useState<string | null>(null);
  const [at, setAt] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: read once, when it opens
  useEffect(() => {
    load().then(setList, (e: Error) => setError(e.message));
  }, []);
  const source = list?.[at];
  return (
    <Dialog title={title} onClose={onClose} wide>
      <div data-view="textures">
        {!list && <p className="text-small soft py-10 text-center">{error ?? 'The pictures are being read …'}</p>}
        {list?.length === 0 && <p className="text-small soft py-10 text-center">There is no picture in it.</p>}
        {list && list.length > 1 && (
          <div className="overflow-x-auto pb-2">
            <Choice label="Picture" options={list.map((t, i) => ({ value: i, label: t.name }))} value={at} onChange={setAt} />
          </div>
        )}
        {source && <TextureLook key={at} source={source} />}
      </div>
    </Dialog>
  );
}

function TextureLook({ source }: { source: TextureSource }) {
  const [pixels, setPixels] = useState<Pixels | null>(null);
  const [size, setSize] = useState<[number, number] | null>(null);
  const [counts, setCounts] = useState<Histogram | null>(null);
  const [error, setError] = useState<string | null>(null);
  const [channel, setChannel] = useState<Channel>('all');
  const [tiled, setTiled] = useState(false);
  const url = useMemo(() => URL.createObjectURL(source.blob), [source]);
  useEffect(() => () => URL.revokeObjectURL(url), [url]);
  useEffect(() => {
    let gone = false;
    (async () => {
      const whole = await pixelsOf(source.blob, 8192);
      const look = Math.max(whole.width, whole.height) > LOOK_EDGE ? await pixelsOf(source.blob, LOOK_EDGE) : whole;
      const h = await computing.histogram(whole);
      if (gone) return;
      setSize([whole.width, whole.height]);
      setPixels(look);
      setCounts(h);
    })().catch(() => !gone && setError('This browser cannot show this picture.'));
    return () => {
      gone = true;
    };
  }, [source]);
  const shown = useMemo(() => (pixels ? oneChannel(pixels, channel) : null), [pixels, channel]);
  const words = channelWords(source.users, channel);
  const chart = useMemo(() => {
    if (!counts) return [];
    const top = Math.max(1, ...drawnOf(channel).flatMap((c) => counts[c].slice(1, 255)));
    // a peak at either end would flatten the rest: it is cut off
    const share = (n: number) => Math.min(1, n / top);
    return counts.red.map((_, v) => ({
      v,
      red: share(counts.red[v]),
      green: share(counts.green[v]),
      blue: share(counts.blue[v]),
      alpha: share(counts.alpha[v]),
    }));
  }, [counts, channel]);
  const drawn = drawnOf(channel);
  const fit = pixels ? Math.min(430 / pixels.width, 380 / pixels.height, 8) : 1;
  return (
    <div className="grid gap-4" style={{ gridTemplateColumns: '450px minmax(0,1fr)' }}>
      <div>
        <div className="flex items-center gap-2 pb-2">
          <Choice label="Channel" options={CHANNELS.map(([value, label]) => ({ value, label }))} value={channel} onChange={setChannel} />
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight"
            aria-pressed={tiled}
            title="Three by three, as it repeats"
            onClick={() => setTiled(!tiled)}
          >
            Tiled
          </button>
        </div>
        <div className="water gridded border border-[color:var(--ink)] grid place-items-center overflow-hidden" style={{ height: 400 }}>
          {error ? (
            <p className="text-small soft">{error}</p>
          ) : tiled && shown && pixels ? (
            <div className="grid" style={{ gridTemplateColumns: 'repeat(3, auto)' }}>
              {Array.from({ length: 9 }, (_, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: nine alike
                <div key={i} style={{ width: (pixels.width * fit) / 3, height: (pixels.height * fit) / 3 }}>
                  <PixelCanvas
                    pixels={shown}
                    label={i === 4 ? `${source.name}, tiled` : ''}
                    view="texture-tile"
                    className="w-full h-full block"
                  />
                </div>
              ))}
            </div>
          ) : (
            <div
              style={
                pixels
                  ? { width: pixels.width * fit, height: pixels.height * fit, imageRendering: fit > 2 ? 'pixelated' : 'auto' }
                  : undefined
              }
            >
              <PixelCanvas
                pixels={shown}
                label={`${source.name}, ${channel === 'all' ? 'all channels' : channel}`}
                view="texture"
                className="w-full h-full block"
              />
            </div>
          )}
        </div>
      </div>
      <div className="text-small min-w-0">
        <dl className="grid gap-y-1" style={{ gridTemplateColumns: '112px 1fr' }}>
          <dt className="soft">Size</dt>
          <dd className="num">
            {size ? `${size[0]} × ${size[1]}` : '…'}
            <span className="unit">px</span>
          </dd>
          <dt className="soft">File</dt>
          <dd>
            <span className="num">{showMegabytes(source.blob.size)}</span> MB, {source.mime.replace('image/', '').toUpperCase()}
          </dd>
          <dt className="soft">In memory</dt>
          <dd title="Four bytes a pixel and every smaller copy of it">
            <span className="num" data-fact="memory">
              {size ? showCount(bytesWithMips(size[0], size[1])) : '…'}
            </span>
            <span className="unit">bytes with mip levels</span>
          </dd>
          <dt className="soft">Used by</dt>
          <dd>
            {source.users.length === 0 ? (
              <span className="soft">nothing</span>
            ) : (
              source.users.map((u) => (
                <span key={`${u.material} ${u.role}`} className="block break-words">
                  {u.material || 'a material without a name'}, <span className="soft">{u.role}</span>
                </span>
              ))
            )}
          </dd>
          {words && (
            <>
              <dt className="soft">This channel</dt>
              <dd>{words}</dd>
            </>
          )}
        </dl>
        <h3 className="font-semibold pt-3 pb-1">How often each value stands in it</h3>
        <div role="img" aria-label="Histogram" data-view="histogram" className="water" style={{ height: 150 }}>
          <ResponsiveContainer width="100%" height="100%">
            <AreaChart data={chart} margin={{ top: 4, right: 6, bottom: 0, left: 6 }}>
              <XAxis dataKey="v" type="number" domain={[0, 255]} ticks={[0, 64, 128, 192, 255]} fontSize={11} stroke="var(--ink-2)" />
              <YAxis hide domain={[0, 1]} />
              {drawn.map((c) => (
                <Area key={c} dataKey={c} type="linear" stroke={INK[c]} fill={INK[c]} fillOpacity={0.25} isAnimationActive={false} />
              ))}
            </AreaChart>
          </ResponsiveContainer>
        </div>
        <a className="btn btn-line btn-sm mt-3" href={url} download={paintName(source)}>
          <Download className="ico" />
          Download it to paint on
        </a>
        <p className="soft text-micro pt-1">Brought back under the same name, it takes this one’s place.</p>
      </div>
    </div>
  );
}

const ENDINGS: Record<string, string> = { 'image/jpeg': '.jpg', 'image/png': '.png', 'image/webp': '.webp' };
/** The name a texture goes out under; its own, with the ending of what it is. */
export function paintName({ name, mime }: Pick<TextureSource, 'name' | 'mime'>): string {
  const leaf = name.replace(/^.*[/\\]/, '').replace(/\.(png|jpe?g|webp)$/i, '');
  return `${leaf || 'texture'}${ENDINGS[mime] ?? ''}`;
}
