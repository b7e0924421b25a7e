'use client';
import { useMemo, useRef, useState } from 'react';
import { BODY_CAMERA } from '@/core/capture';
import { type LicenceBlocker, licenceBlockers, PROFILES, type Profile, packageContents, rootsOf } from '@/core/deliver';
import { OWN_WORK } from '@/core/intake';
import {
  batch,
  change,
  hasBody,
  litBy,
  PARTS,
  type Part,
  type Piece,
  seesBody,
  settings,
  shownBody,
  shownWearer,
  stockOf,
  wearerWords,
} from '@/core/piece';
import { stageStill, wearerCapture } from '@/core/run';
import { Flag, lazily, PageLink, spareText, useSize, useTurns, Waterline } from '../kit';
import { type PackageWeight, useDocument, usePiece, useWeight } from '../piece/context';
import { FilesOnTheWay } from '../piece/filesontheway';
import { readiness } from '../piece/readiness';
import { pixelRatio, useDraw, useModels } from '../piece/stagehooks';
import { useWearer } from '../piece/wearers';
import { Packages } from './packages';

const PieceLight = lazily(() => import('../piece/piecelight'), 'PieceLight');

/** The lists; the picture and the packages: with the rest they would hold the page. */
const TURNS = 2;

export function DeliverView() {
  const turn = useTurns(TURNS);
  const weight = useWeight();
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  return (
    <div className="h-full flex flex-col p-3 pt-2.5 gap-2.5 overflow-y-auto">
      <div className="flex items-baseline gap-3">
        <h2 className="text-[15px] font-semibold">Deliver</h2>
        <span className="text-small soft">Choose where the piece will be worn. The load line moves to suit.</span>
      </div>
      <div className="grid grid-cols-1 sm:grid-cols-3 gap-2" role="radiogroup" aria-label="Profile">
        {Object.values(PROFILES).map((p) => (
          <ProfileCard
            key={p.id}
            profile={p}
            weight={weight}
            chosen={doc.settings.profile === p.id}
            onChoose={() => commit(settings({ profile: p.id }))}
          />
        ))}
      </div>
      <div className="handover">
        <div className="flex flex-col gap-2.5 min-h-0">
          {turn > 0 && (
            <>
              <BeforeItSails weight={weight} />
              <Contents />
            </>
          )}
        </div>
        {turn > 1 && (
          <>
            <Picture />
            <Packages weight={weight} />
          </>
        )}
      </div>
    </div>
  );
}

const UNKNOWN: Record<string, string> = { waits: 'being weighed …', failed: 'could not be weighed' };

function ProfileCard({
  profile,
  weight,
  chosen,
  onChoose,
}: {
  profile: Profile;
  weight: PackageWeight;
  chosen: boolean;
  onChoose: () => void;
}) {
  const bytes = weight.is === 'known' ? weight.bytes : null;
  const over = bytes !== null && bytes > profile.bytes;
  return (
    <label
      className={`sheet text-left px-2.5 pt-2 pb-2 relative cursor-pointer card-radio ${chosen ? 'indexed bg-[color:var(--brass-wash)]! border-[color:var(--brass)]!' : ''}`}
    >
      <input type="radio" name="profile" className="over" aria-label={profile.label} checked={chosen} onChange={onChoose} />
      <span className="flex items-baseline justify-between">
        <b className="text-[14px] font-semibold">{profile.label}</b>
        <span className="num text-small">
          {profile.bytes / 1e6}
          <span className="unit">MB</span>
        </span>
      </span>
      <span className="block text-micro soft mb-1.5">{profile.about}</span>
      <span className="block water border border-[color:var(--hair)] overflow-hidden">
        <Waterline bytes={bytes} limit={profile.bytes} width={364} height={64} viewWidth={496} at={0.75} />
      </span>
      <span
        className={`flex items-center gap-1 mt-1.5 text-small ${over ? 'font-semibold' : 'soft'}`}
        style={over ? { color: 'var(--vermilion)' } : undefined}
      >
        {over && <Flag kind="blocker" size={13} />}
        {bytes === null ? UNKNOWN[weight.is] : spareText(bytes, profile.bytes)}
      </span>
    </label>
  );
}

function BeforeItSails({ weight }: { weight: PackageWeight }) {
  const doc = useDocument();
  const assets = usePiece((s) => s.assets);
  const save = usePiece((s) => s.save);
  const points = useMemo(() => readiness(doc, assets, save, weight), [doc, assets, save, weight]);
  const done = points.filter((p) => p.flag === 'done').length;
  const waits = points.filter((p) => p.flag === 'waits').length;
  const unlicensed = licenceBlockers(doc);
  return (
    <section className="sheet px-3 pt-2 pb-1">
      <header className="flex items-baseline justify-between pb-1 rule-b">
        <h3 className="text-[15px] font-semibold">Before it is delivered</h3>
        <span className="text-small soft">
          <span className="num">{done}</span> done, <span className="num">{points.length - done - waits}</span> to do
          {waits > 0 && (
            <>
              , <span className="num">{waits}</span> not known yet
            </>
          )}
        </span>
      </header>
      {points.map(({ is, flag, title, more }) => (
        <div key={is} className="finding" style={{ alignItems: 'center', padding: '5px 0' }} data-point={is} data-flag={flag}>
          <Flag kind={flag} />
          <span>
            <span className="font-medium">{title}</span>
            <span className="soft block text-micro leading-[13px]">{more}</span>
            {is === 'licences' && unlicensed.length > 0 && <OwnWork blockers={unlicensed} />}
            {is === 'weight' && weight.is === 'failed' && (
              <button type="button" className="fix mt-1" onClick={weight.again}>
                Try again
              </button>
            )}
          </span>
        </div>
      ))}
    </section>
  );
}

/** The commonest answer in one press; any other is given in Stock. */
function OwnWork({ blockers }: { blockers: readonly LicenceBlocker[] }) {
  const id = usePiece((s) => s.id);
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const unknown = blockers.filter((b) => doc.stock[b.stockId].credit.licence === '');
  return (
    <span className="flex gap-1.5 pt-1">
      {unknown.length > 0 && (
        <button
          type="button"
          className="fix fix-main"
          onClick={() =>
            commit(batch(unknown.map((b) => change('stock', b.stockId, { credit: { ...doc.stock[b.stockId].credit, licence: OWN_WORK } }))))
          }
        >
          It is own work
        </button>
      )}
      <PageLink className="fix" href={`/piece/${id}/stock`}>
        Say it in Stock
      </PageLink>
    </span>
  );
}

const fromOf = (doc: Piece, p: Part) => doc.stock[stockOf(p) ?? '']?.name ?? PARTS[p.kind].label;

function Contents() {
  const doc = useDocument();
  const { parts, leftOut, lost } = packageContents(doc);
  return (
    <section className="sheet pt-2 overflow-y-auto flex-1 min-h-[120px]" aria-label="What the GLB holds">
      <h3 className="text-[15px] font-semibold px-3 pb-1">What the GLB holds</h3>
      <table className="ledger" style={{ tableLayout: 'fixed' }}>
        <thead>
          <tr>
            <th className="pl-3!" style={{ width: '30%' }}>
              Name
            </th>
            <th style={{ width: '24%' }}>From</th>
            <th>In the package</th>
          </tr>
        </thead>
        <tbody>
          {parts.map((p) => (
            <tr key={p.id}>
              <td className="pl-3! named text-[14px] truncate" title={p.name}>
                {p.name}
              </td>
              <td className="truncate" title={fromOf(doc, p)}>
                {fromOf(doc, p)}
              </td>
              <td style={{ whiteSpace: 'normal' }}>
                <span className="flag" style={{ fontWeight: 450 }}>
                  <Flag kind="done" />
                  under {p.hang?.on === 'part' ? doc.parts[p.hang.part].name : rootsOf(doc, [p])[0]}
                </span>
                {lost.some((l) => l.name === p.name) && (
                  <span className="soft block text-micro" data-lost={p.name}>
                    not said in a GLB: {lost.find((l) => l.name === p.name)?.why}
                  </span>
                )}
              </td>
            </tr>
          ))}
          {leftOut.map((l) => (
            <tr key={l.name + l.why} data-left-out={l.name}>
              <td className="pl-3! soft truncate" title={l.name}>
                {l.name}
              </td>
              <td />
              <td className="soft" style={{ whiteSpace: 'normal' }}>
                left out: {l.why}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const TURN = { yawDeg: 14, pitchDeg: 0, rollDeg: 0 };
const CAMERA = { positionM: [0, 0, 1.1] as [number, number, number], targetM: [0, -0.02, 0] as [number, number, number], fovDeg: 22 };

/** The piece as it stands, a real rendering. */
function Picture() {
  const doc = useDocument();
  const id = usePiece((s) => s.id);
  const wearer = useWearer(shownBody(doc), seesBody(doc));
  const models = useModels(id, doc);
  const { environment } = litBy(doc);
  const [lit, setLit] = useState('');
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  useDraw(
    async (stage) => {
      if (!canvas.current || !wearer || width === 0) return;
      stage.setWearer(wearer);
      await stage.drawMirror(
        canvas.current,
        stageStill(
          doc,
          { models, forms: { [shownWearer(doc).key]: wearer.form } },
          wearerCapture(doc, { head: TURN }, 0, hasBody(doc) ? BODY_CAMERA : CAMERA),
        ),
        { width, height, ratio: pixelRatio() },
        {},
      );
    },
    [doc, wearer, models, lit, width, height],
  );
  return (
    <section className="sheet p-2.5 self-start">
      {environment && <PieceLight piece={id} environment={environment} onReady={setLit} />}
      <header className="flex items-baseline justify-between pb-1.5">
        <h3 className="text-[15px] font-semibold">As it will be seen</h3>
        <span className="text-micro soft">{wearerWords(shownWearer(doc))}</span>
      </header>
      <div ref={ref} className="relative border border-[color:var(--ink)] overflow-hidden bg-[#0c2029]" style={{ height: 284 }}>
        <canvas
          ref={canvas}
          className="plate-canvas"
          role="img"
          aria-label={`${doc.settings.name} on ${wearerWords(shownWearer(doc))}`}
          data-view="deliver"
        />
        <FilesOnTheWay />
      </div>
    </section>
  );
}
