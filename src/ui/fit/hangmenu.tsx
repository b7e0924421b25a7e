'use client';
/** What can be hung: files of Stock, plain solids, a group, screens, an occluder. */
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { ulid } from 'ulid';
import { screenLayer } from '@/core/fit';
import {
  add,
  batch,
  canFill,
  createFace,
  createGroup,
  createModelPart,
  createOccluder,
  createScreen,
  createSolid,
  drawnModel,
  FACE_COVER_LABELS,
  FACE_COVERS,
  type FaceCover,
  HAIR_MM,
  type Hang,
  isPlaced,
  type Part,
  type Piece,
  partNameOf,
  type SingleEdit,
  SOLID_FORMS,
  SOLID_LABELS,
  type SolidForm,
  type SolidShape,
  shownWearer,
  stockOf,
} from '@/core/piece';
import { PATCH_REGIONS, type PatchRegion, WINDOWS } from '@/core/words/windows';
import { useActs } from '../acts';
import { Mark, Menu, type OwnIcon, useGo } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { freeName } from './partmenu';
import { useFitRunRef } from './run';
import { seatFor } from './seating';
import { knowingForm } from './view';

/** Sizes that are seen beside a head, mm. */
const START_MM: Readonly<Record<SolidForm, SolidShape['sizeMm']>> = {
  box: [60, 60, 60],
  sphere: [60, 60, 60],
  cylinder: [170, 110, 190],
  capsule: [40, 100, 40],
  cone: [120, 160, 120],
  ring: [180, 16, 200],
  plane: [120, 80, 1],
  disc: [120, 120, 1],
  tube: [170, 40, 190],
  arch: [180, 120, 24],
};
/** Above the crown of a head in size M: a new solid is seen, and not buried in it. */
const ABOVE_M = 0.15;

/** Live patches by what they show together. */
const FACES: readonly [string, string, readonly PatchRegion[]][] = [
  ['eyes and mouth', 'Eyes and mouth', ['eyeR', 'eyeL', 'mouth']],
  ['eyes', 'Both eyes', ['eyeR', 'eyeL']],
  ...PATCH_REGIONS.map((region): [string, string, PatchRegion[]] => [region, WINDOWS[region].label, [region]]),
];
/** What they are painted with until something else is. */
const FACE_COLOURS: Readonly<Record<FaceCover, string>> = {
  face: '#c9a36b',
  lids: '#2f6f6a',
  brows: '#3b2c22',
  lips: '#a8323a',
  eyes: '#e8e2d2',
};
/** A thing with a surface of its own. */
const carries = (part: Part | undefined) => part !== undefined && (part.kind === 'solid' || stockOf(part) !== null) && isPlaced(part);

const startShape = (form: SolidForm): SolidShape => ({ form, sizeMm: START_MM[form], roundMm: 0, wallMm: 12, open: [] });
/** Files that can hang. */
export const hangable = (doc: Piece) => Object.values(doc.stock).filter((f) => drawnModel(doc, f.id) !== null);

const onHead = (hang: Hang | null) => hang?.on === 'anchor' && hang.anchor.kind === 'head';

/** Hangs a file as a part: on the head where its kind is worn, elsewhere at what it is hung on. */
export function useHangFile(): (stock: string, hang?: Hang | null) => Promise<void> {
  const store = usePieceStore();
  return async (stock, hang) => {
    const seat = hang === undefined || onHead(hang) ? await seatFor(store.getState(), stock) : null;
    const { history, commit, select } = store.getState();
    const file = history.doc.stock[stock];
    if (!file) return;
    const part = createModelPart(ulid(), stock, freeName(history.doc, partNameOf(file.name)));
    const seated = { ...part, offset: { ...part.offset, ...seat } };
    if (commit(add('parts', hang === undefined ? seated : { ...seated, hang }))) select(part.id);
  };
}

export function HangMenu() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const selected = usePiece((s) => s.selected);
  const id = usePiece((s) => s.id);
  const files = hangable(doc);
  const hangFile = useHangFile();
  const [opened, setOpened] = useState(0);
  useActs({ hang: { run: () => setOpened((n) => n + 1) } });
  const hang = (part: Part, before: SingleEdit[] = [], at?: number) => {
    if (commit(batch([...before, add('parts', part, at)]))) select(part.id);
  };
  const screen = (where: 'backdrop' | 'foreground', set: Parameters<typeof createScreen>[3], name: string) => {
    const { edits, layer } = screenLayer(doc, where, ulid);
    hang(createScreen(ulid(), freeName(doc, name), layer, set), edits);
  };
  const run = useFitRunRef();
  const carrier = selected && carries(doc.parts[selected]) ? doc.parts[selected] : null;
  const putFace = async (regions: readonly PatchRegion[]) => {
    if (!carrier) return;
    const show = await knowingForm(run.current.show);
    const form = show.assets.forms?.[shownWearer(show.piece).key];
    const { patchesOn } = await import('@/core/run/patchacts');
    const made = form && patchesOn(show, form, carrier, regions, ulid, (label) => freeName(doc, label));
    if (!made) say.message(`${carrier.name} has no surface that the camera sees.`);
    else if (commit(batch(made.edits))) select(made.ids[0]);
  };
  const pictures = Object.values(doc.stock).filter(canFill);
  const go = useGo();
  return (
    <Menu
      label="Hang a part"
      opened={opened}
      align="right"
      className="btn btn-line btn-sm"
      button={
        <>
          <Plus className="ico" />
          Hang a part
        </>
      }
      groups={() => [
        {
          id: 'Files of Stock',
          entries:
            files.length > 0
              ? files.map((f) => item(f.id, 'part', f.name, () => void hangFile(f.id)))
              : [item('empty', 'part', 'Stock is empty: bring a model in', () => void go(`/piece/${id}/stock`))],
        },
        {
          id: 'Plain solids',
          columns: 2,
          entries: SOLID_FORMS.map((form) =>
            item(form, 'solid', SOLID_LABELS[form], () => {
              const part = createSolid(ulid(), freeName(doc, SOLID_LABELS[form]), startShape(form));
              hang({ ...part, offset: { ...part.offset, positionM: [0, ABOVE_M, 0] } });
            }),
          ),
        },
        {
          id: 'Others',
          entries: [
            item('group', 'group', 'Group, empty', () => hang(createGroup(ulid(), freeName(doc, 'Group')))),
            item('backdrop', 'screen', 'Backdrop, behind the wearer', () => screen('backdrop', backdropOf(pictures), 'Backdrop')),
            item('foreground', 'screen', 'Foreground, before everything', () =>
              screen('foreground', { ...backdropOf(pictures), opacity: pictures.length > 0 ? 1 : 0.3 }, 'Foreground'),
            ),
            item('occluder', 'occluder', 'Occluder, of the form', () =>
              hang({ ...createOccluder(ulid()), name: occluderName(doc) }, [], 0),
            ),
            item('hair', 'occluder', 'Hair cap, hides as hair does', () =>
              hang({ ...createOccluder(ulid()), name: freeName(doc, 'Hair cap'), region: 'hair', growMm: HAIR_MM }, [], 0),
            ),
          ],
        },
        {
          id: 'The wearer’s own face',
          title: carrier ? `The wearer’s own face, on ${carrier.name}` : 'The wearer’s own face',
          columns: carrier ? 2 : 1,
          entries: carrier
            ? FACES.map(([key, label, regions]) => item(key, 'facepoint', label, () => void putFace(regions)))
            : [
                {
                  ...item('patches', 'facepoint', 'Eyes, mouth, nose, face', () => undefined),
                  off: 'Choose the part first that they are put on',
                },
              ],
        },
        {
          id: 'On the face itself',
          columns: 2,
          entries: FACE_COVERS.map((covers) =>
            item(`on-${covers}`, 'facepoint', FACE_COVER_LABELS[covers], () =>
              hang(createFace(ulid(), freeName(doc, FACE_COVER_LABELS[covers]), covers, FACE_COLOURS[covers])),
            ),
          ),
        },
      ]}
    />
  );
}

const item = (id: string, mark: OwnIcon, label: string, act: () => void) => ({
  id,
  label,
  mark: <Mark name={mark} className="soft" />,
  act,
});

/** The last picture or environment that came in; without one, a colour. */
const backdropOf = (pictures: readonly { id: string }[]) =>
  pictures.length > 0 ? { stock: pictures[pictures.length - 1].id } : { colour: '#14343f' };
const occluderName = (doc: Piece) => freeName(doc, 'Head block');
