'use client';
import type { RecipeStep, WEIGHT_METHODS } from '@/core/piece';
import { counted } from '@/core/words/counted';
import type { RestStance } from '@/core/words/stances';

/** What a mend or a change of pictures does, in words. */
export const OP_WORDS: Record<string, string> = {
  'not-finite': 'broken vertices out',
  degenerate: 'empty triangles out',
  duplicates: 'repeated triangles out',
  flipped: 'triangles faced outwards',
  outwards: 'rooms and skies turned outwards',
  normals: 'normals computed',
  tangents: 'broken tangents out',
  weld: 'vertices shared',
  unused: 'unused vertices out',
  close: 'open edges closed',
  'inner-shells': 'hidden shapes out',
  crumbs: 'crumbs out',
  'merge-materials': 'equal materials joined',
  opaque: 'needless blending off',
  'single-sided': 'drawn from outside only',
  lit: 'light taken',
  unlit: 'unlit',
  'four-influences': 'four bones a vertex',
  weights: 'weights sum to 1',
  'unused-bones': 'idle bones out',
  'skins-to-root': 'skinned shapes at the root',
  'constant-tracks': 'still tracks cut',
  'the-form': 'the form taken out',
  resize: 'pictures made smaller',
  'drop-alpha': 'idle alpha out',
  merge: 'equal pictures joined',
  roles: 'normal maps put in their role',
  pack: 'occlusion packed',
};

const deg = (x: number) => `${Number(x.toFixed(2))}°`;
const factor = (x: number) => `×${Number(x.toPrecision(4))}`;

function otherWords(s: Exclude<RecipeStep, { step: 'transform' | 'mend' | 'texture' | 'relink' }>): string {
  const leaf = (name: string) => name.replace(/^.*[/\\]/, '');
  switch (s.step) {
    case 'repaint':
      return `Painted anew: ${s.settings.links.map((l) => leaf(l.texture)).join(', ')}`;
    case 'raster':
      return `Drawn ${s.settings.width} px wide`;
    case 'straighten':
      return `Straightened to ${s.settings.width} × ${s.settings.height} px`;
    case 'crop':
      return `Cut to ${s.settings.width} × ${s.settings.height} px, from ${s.settings.x} across and ${s.settings.y} down`;
    case 'alpha':
      return `Alpha: ${s.settings.ops.map((o) => (o === 'bleed' ? 'colour carried outwards' : 'left out')).join(', ')}`;
    case 'encode':
      return `Packed as ${s.settings.format === 'png' ? 'PNG' : `${s.settings.format === 'jpeg' ? 'JPEG' : 'WebP'} of quality ${s.settings.quality}`}`;
    case 'plane':
      return `Hangs ${s.settings.widthMm} mm wide`;
    case 'play':
      return `Plays ${s.settings.fps} frames a second, ${s.settings.loop ? 'looping' : 'once'}`;
    case 'sheet':
      return `Sheet of at most ${s.settings.maxEdge} px`;
    case 'pivot':
      return `Origin: ${s.settings.to === 'base' ? 'under the middle of its base' : s.settings.to === 'centre' ? 'in its middle' : 'at a point of it'}`;
    case 'ground':
      return 'Dropped to the ground';
    case 'hidden':
      return `What is hidden taken out${s.settings.behind.length > 0 ? `, behind ${s.settings.behind.join(', ')}` : ''}`;
    case 'merge':
      return `Joined: ${[s.settings.materials && 'materials that draw alike', s.settings.meshes && 'meshes that wear the same'].filter(Boolean).join(', ')}`;
    case 'prune':
      return 'What nothing uses taken out';
    case 'atlas':
      return `Small pictures put into one of at most ${s.settings.maxEdge} px`;
    case 'simplify':
      return `Simplified${s.settings.ratio === null ? '' : ` to ${Number((s.settings.ratio * 100).toFixed(1))} % of its triangles`}${s.settings.errorMm === null ? '' : ` within ${Number(s.settings.errorMm.toPrecision(3))} mm`}${s.settings.detail.length > 0 ? ', detail kept where painted' : ''}`;
    case 'pictures':
      return `Pictures written anew: ${[...s.settings.roles.map((r) => r.role), ...s.settings.textures.map((t) => leaf(t.texture))].join(', ')}`;
    case 'clips':
      return `Clips: ${[s.settings.resample && 'idle keys out', s.settings.dropConstant && 'still tracks out'].filter(Boolean).join(', ')}`;
    case 'chains':
      return s.settings.chains === 'all' ? 'Chains of bones in all limbs' : `${counted(s.settings.chains.length, 'chain')} of bones`;
    case 'figure': {
      const moved = Object.keys(s.settings.jointsM).length;
      return `A figure of ${s.settings.detail} bones${moved > 0 ? `, ${counted(moved, 'joint')} put by hand` : ''}`;
    }
    case 'garment':
      return `Bones and weights of the body it lies on, form ${s.settings.form}`;
    case 'known':
      return `${counted(Object.keys(s.settings.joints).length, 'bone')} told by hand`;
    case 'stance':
      return `Rest pose: ${STANCE_WORDS[s.settings.rest]}`;
    case 'shares':
      return `Weights put right at ${counted(s.settings.edits.length, 'place')}`;
    case 'weights':
      return `Weights painted, kept ${s.settings.taken.length === 1 ? 'once' : `${s.settings.taken.length} times`}`;
    case 'motion':
      return `Motion: ${s.settings.clips.map((c) => c.motion).join(', ')}`;
    case 'retarget':
      return `Motion of Stock: ${s.settings.clips.map((c) => c.clip || c.name).join(', ')}`;
    case 'bones':
      return `Bones: ${[s.settings.dropUnused && 'idle ones out', s.settings.fourInfluences && 'four a vertex', s.settings.limit !== null && `at most ${s.settings.limit}`].filter(Boolean).join(', ')}`;
    case 'quantise':
      return `Numbers of ${s.settings.positionBits} bits for places, ${s.settings.normalBits} for normals, ${s.settings.uvBits} for UVs`;
    case 'reorder':
      return 'Put in an order that packs well';
    case 'compress':
      return `Packed with ${s.settings.method === 'draco' ? 'Draco' : 'meshopt'}`;
    case 'trim':
      return `Kept from ${s.settings.fromS.toFixed(2)} s to ${s.settings.toS.toFixed(2)} s`;
  }
}

export const WEIGHT_WORDS: Record<(typeof WEIGHT_METHODS)[number], string> = {
  auto: 'Weights as the shape asks',
  heat: 'Weights by heat on the surface',
  voxel: 'Weights through voxels',
};

export const STANCE_WORDS: Readonly<Record<RestStance, string>> = {
  T: 'arms level (T)',
  A: 'arms out (A)',
  half: 'arms half down',
};

/** A step in a few words. */
export function stepWords(s: RecipeStep): string {
  if (s.step === 'mend') return `Mend: ${s.settings.ops.map((o) => OP_WORDS[o]).join(', ')}`;
  if (s.step === 'texture')
    return `Pictures: ${s.settings.ops.map((o) => (o === 'resize' ? `at most ${s.settings.maxEdge} px` : OP_WORDS[o])).join(', ')}`;
  if (s.step === 'relink') return `Relink: ${s.settings.links.map((l) => l.name.replace(/^.*[/\\]/, '')).join(', ')}`;
  if (s.step !== 'transform') return otherWords(s);
  const { factor: f, turnDeg, shiftM, apply } = s.settings;
  const parts = [
    f !== 1 && `size ${factor(f)}`,
    (turnDeg.yaw || turnDeg.pitch || turnDeg.roll) &&
      `turn ${[turnDeg.yaw && `${deg(turnDeg.yaw)} yaw`, turnDeg.pitch && `${deg(turnDeg.pitch)} pitch`, turnDeg.roll && `${deg(turnDeg.roll)} roll`].filter(Boolean).join(', ')}`,
    shiftM.some((x) => x !== 0) && 'moved',
    apply && 'node turns worked in',
  ].filter(Boolean);
  return `Transform: ${parts.join('; ')}`;
}

/** What has been done to the file, step by step; each can be taken back. The original stays as it came. */
export function RecipeSteps({ steps, busy, onSet }: { steps: readonly RecipeStep[]; busy: boolean; onSet: (steps: RecipeStep[]) => void }) {
  if (steps.length === 0) return null;
  return (
    <section aria-label="Recipe" className="pt-2">
      <div className="flex items-baseline gap-2 pb-1">
        <h4 className="text-[13px] font-semibold">Done to it</h4>
        <span className="text-micro soft">the original stays as it came</span>
        <button type="button" className="fix ml-auto" aria-disabled={busy} onClick={() => !busy && onSet([])}>
          As delivered
        </button>
      </div>
      <ol>
        {steps.map((s, i) => (
          <li key={s.id} className="finding" style={{ gridTemplateColumns: '16px minmax(0,1fr) auto', alignItems: 'center' }}>
            <span className="num text-micro soft">{i + 1}</span>
            <span className="break-words min-w-0">{stepWords(s)}</span>
            <button type="button" className="fix" aria-disabled={busy} onClick={() => !busy && onSet(steps.filter((x) => x.id !== s.id))}>
              Remove
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
