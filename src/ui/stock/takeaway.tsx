'use client';
import { PackageOpen, Sunrise } from 'lucide-react';
import { useState } from 'react';
import { formName } from '@/core/form';
import type { Model } from '@/core/intake';
import { inkOf, type UvShape, uvEdges, uvLayoutSvg } from '@/core/math';
import { SKIES, SKY_LABELS, type SkyName } from '@/core/words/skies';
import { computing } from '@/worker/browser';
import { give, Menu, type MenuGroup } from '../kit';
import { say } from '../kit/say';
import { useDocument } from '../piece/context';

/** Edges of what is painted upon. */
const EDGES = [1024, 2048, 4096] as const;

/** The layout as a PNG of that size: lines on a clear ground. */
async function layoutPng(shapes: readonly UvShape[], edge: number): Promise<Blob> {
  const canvas = document.createElement('canvas');
  canvas.width = edge;
  canvas.height = edge;
  const g = canvas.getContext('2d', { willReadFrequently: true });
  if (!g) throw new Error('This browser has no 2D canvas.');
  shapes.forEach((s, i) => {
    g.strokeStyle = inkOf(i);
    g.lineWidth = edge / 1024;
    g.beginPath();
    const e = uvEdges(s);
    for (let k = 0; k < e.length; k += 4) {
      g.moveTo(e[k] * edge, e[k + 1] * edge);
      g.lineTo(e[k + 2] * edge, e[k + 3] * edge);
    }
    g.stroke();
  });
  return new Promise((resolve, reject) =>
    canvas.toBlob((b) => (b ? resolve(b) : reject(new Error('The layout could not be drawn.'))), 'image/png'),
  );
}

const plain = (name: string) => name.toLowerCase().replaceAll(' ', '-');

/** The size of a layout, as a choice in a menu that stays open. */
const edges = (edge: number, onPick: (e: number) => void): MenuGroup => ({
  id: 'edge',
  title: 'Size of the layout, pixels',
  choice: true,
  stays: true,
  entries: EDGES.map((e) => ({ id: String(e), label: `${e} px`, chosen: e === edge, act: () => onPick(e) })),
});

/** The form to model and paint upon, in the piece's own size. */
export function TakeAwayMenu() {
  const { form: size } = useDocument().settings;
  const [edge, setEdge] = useState<number>(2048);
  const [busy, setBusy] = useState(false);
  const take = async (kind: 'glb' | 'obj' | 'svg' | 'png') => {
    setBusy(true);
    try {
      const name = plain(formName(size));
      if (kind === 'png') {
        const svg = new TextDecoder().decode(await computing.formFile(size, 'svg', edge));
        give(await svgToPng(svg, edge), 'image/png', `${name}-uv.png`);
      } else {
        const bytes = (await computing.formFile(size, kind, edge)) as Uint8Array<ArrayBuffer>;
        const type = { glb: 'model/gltf-binary', obj: 'model/obj', svg: 'image/svg+xml' }[kind];
        give(bytes, type, kind === 'svg' ? `${name}-uv.svg` : `${name}.${kind}`);
      }
    } catch (e) {
      say.error((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const entry = (kind: 'glb' | 'obj' | 'svg' | 'png', label: string) => ({ id: kind, label, act: () => void take(kind) });
  return (
    <Menu
      label="Download the form, to model or paint upon"
      align="right"
      className={`btn btn-line btn-sm ${busy ? 'busy' : ''}`}
      button={
        <>
          <PackageOpen className="ico" />
          Form
        </>
      }
      groups={[
        { id: 'form', title: `Form ${size}, to model upon`, entries: [entry('glb', 'Form as GLB'), entry('obj', 'Form as OBJ')] },
        edges(edge, setEdge),
        {
          id: 'layout',
          title: 'Its UV layout, to paint upon; what comes back lands where it was',
          entries: [entry('png', 'Layout as PNG'), entry('svg', 'Layout as SVG')],
        },
      ]}
    />
  );
}

async function svgToPng(svg: string, edge: number): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement('canvas');
    canvas.width = edge;
    canvas.height = edge;
    canvas.getContext('2d', { willReadFrequently: true })?.drawImage(image, 0, 0, edge, edge);
    return await new Promise((resolve, reject) =>
      canvas.toBlob((b) => (b ? resolve(b) : reject(new Error('The layout could not be drawn.'))), 'image/png'),
    );
  } finally {
    URL.revokeObjectURL(url);
  }
}

const shapesOf = (data: Model): UvShape[] =>
  data.meshes.flatMap((m, i) =>
    m.primitives.flatMap((p, k) =>
      p.uvs ? [{ name: `${m.name || `shape ${i}`}${m.primitives.length > 1 ? ` ${k + 1}` : ''}`, uvs: p.uvs, triangles: p.triangles }] : [],
    ),
  );

/** The UV layout of a model as it stands on the turntable, at a chosen size. */
export function LayoutMenu({ name, data }: { name: string; data: Model }) {
  const [edge, setEdge] = useState<number>(2048);
  const shapes = shapesOf(data);
  if (shapes.length === 0) return null;
  const base = name.replace(/\.[^.]+$/, '');
  return (
    <Menu
      label="Download the UV layout, to paint upon"
      align="right"
      className="btn btn-line btn-sm btn-tight"
      button={
        <>
          <PackageOpen className="ico" />
          UV layout
        </>
      }
      groups={[
        edges(edge, setEdge),
        {
          id: 'layout',
          entries: [
            {
              id: 'png',
              label: 'Layout as PNG',
              act: () =>
                void layoutPng(shapes, edge).then(
                  (b) => give(b, 'image/png', `${base}-uv.png`),
                  (e: Error) => say.error(e.message),
                ),
            },
            { id: 'svg', label: 'Layout as SVG', act: () => give(uvLayoutSvg(shapes, edge), 'image/svg+xml', `${base}-uv.svg`) },
          ],
        },
      ]}
    />
  );
}

/** Four environments made from numbers; each comes into Stock as a file of one's own. */
export function EnvironmentMenu({ onMade }: { onMade: (file: File) => void }) {
  const [busy, setBusy] = useState(false);
  const make = async (name: SkyName) => {
    setBusy(true);
    try {
      const bytes = (await computing.makeEnvironment(name)) as Uint8Array<ArrayBuffer>;
      onMade(new File([bytes], `${name}.hdr`));
    } catch (e) {
      say.error((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Menu
      label="Make an environment"
      align="right"
      className={`btn btn-line btn-sm ${busy ? 'busy' : ''}`}
      button={
        <>
          <Sunrise className="ico" />
          Environment
        </>
      }
      groups={[{ id: 'environments', entries: SKIES.map((name) => ({ id: name, label: SKY_LABELS[name], act: () => void make(name) })) }]}
    />
  );
}
