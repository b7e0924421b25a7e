'use client';
import { type ReactNode, useState } from 'react';
import { type Finding, isUnseen, KINDS, type Kind, type PictureBrief, pictureLeaf, rankPictures, type StockJudgement } from '@/core/intake';
import type { StepDraft } from '@/core/piece';
import { useActs } from '../acts';
import { Choice, Flag, NameDialog } from '../kit';

type Filter = 'all' | Finding['level'];
const LEVELS: [Finding['level'], string][] = [
  ['blocker', 'Blockers'],
  ['warning', 'Warnings'],
  ['note', 'Notes'],
];

const keyOf = (f: Finding) => `${f.code} ${f.where ?? ''} ${f.message}`;

/** Words of the button that mends a finding. */
const BUTTONS: Partial<Record<string, string>> = {
  'placing/turn': 'Turn it',
  'geometry/open-edges': 'Close them',
  'placing/mirrored': 'Apply it to the shapes',
  'placing/uneven-scale': 'Apply it to the shapes',
  'placing/unapplied': 'Apply it to the shapes',
  'placing/far': 'Move it to the origin',
  'placing/pivot': 'Centre it',
  'texture/missing': 'Put it in',
  'texture/unreadable': 'Put it in',
  'texture/large': 'Make smaller',
  'form/moved': 'Put it back',
  'form/shape': 'Take it out',
  'picture/idle-alpha': 'Remove the alpha',
  'picture/fringe': 'Spread its edge colours',
  'picture/heavy': 'Write it smaller',
  'picture/profile': 'Convert it',
  'sound/silence': 'Trim it',
  'geometry/not-finite': 'Remove them',
  'geometry/degenerate': 'Remove them',
  'geometry/duplicates': 'Remove them',
  'geometry/flipped': 'Turn them outwards',
  'geometry/inwards': 'Turn them outwards',
  'geometry/inner-shells': 'Remove them',
  'geometry/crumbs': 'Remove them',
  'geometry/normals-missing': 'Compute them',
  'geometry/normals-zero': 'Compute them',
  'geometry/normals-opposed': 'Compute them',
  'geometry/tangents': 'Remove them',
  'geometry/unused-vertices': 'Remove them',
  'geometry/unwelded': 'Share them',
  'material/duplicates': 'Join them',
  'material/blend-opaque': 'Make it opaque',
  'material/double-sided': 'Draw the outside only',
  'material/lit': 'Make it unlit',
  'material/unlit': 'Let it take light',
  'rig/influences': 'Keep the four strongest',
  'rig/weights': 'Scale them to 1',
  'rig/unused-bones': 'Remove them',
  'rig/skin-not-root': 'Put it at the root',
  'clip/constant-tracks': 'Cut them',
  'texture/alpha-unused': 'Remove the alpha',
  'texture/duplicates': 'Join them',
  'texture/role': 'Put it in its role',
  'texture/not-packed': 'Pack them',
};
const UNIT_WORDS: Record<string, string> = { '0.001': 'Treat as millimetres', '0.01': 'Treat as centimetres', '0.0254': 'Treat as inches' };

function buttonWords(f: Finding): string {
  if (f.code === 'placing/scale' && f.fix?.step === 'transform')
    return UNIT_WORDS[String(f.fix.settings.factor)] ?? `Size it ×${f.fix.settings.factor}`;
  return BUTTONS[f.code] ?? 'Mend';
}

export interface FindingsProps {
  judged: StockJudgement;
  kind: Kind | null;
  busy: boolean;
  onFix: (drafts: StepDraft[], all: boolean, changes: string[]) => void;
  onDismiss: (f: Finding, reason: string | null) => void;
  /** Pictures that may be put where one is missing. */
  pictures: readonly PictureBrief[];
  /** A typed width in millimetres, for what is of the wrong size. */
  onWidth: (mm: number) => void;
}

/** What is wrong with a file, each with what its fix would change. The first fix of a blocker takes the ink. */
export function Findings({ judged, kind, busy, pictures, onFix, onDismiss, onWidth }: FindingsProps) {
  const [filter, setFilter] = useState<Filter>('all');
  const [letting, setLetting] = useState<Finding | null>(null);
  const [open, setOpen] = useState(false);
  const { findings, dismissed, facts } = judged;
  const shown = findings.filter((f) => filter === 'all' || f.level === filter);
  // what changes the picture is pressed by itself
  const fixable = shown.filter(isUnseen);
  const first = findings.find((f) => f.level === 'blocker' && f.fix);
  const mendable = findings.filter(isUnseen);
  useActs({
    'mend-all': {
      run: () => {
        const fixes = mendable.map((f) => f.fix);
        onFix(
          fixes,
          true,
          fixes.flatMap((f) => f.changes),
        );
      },
      off: busy ? 'the file is being worked at.' : mendable.length === 0 ? 'there is nothing that one press mends.' : null,
    },
  });
  return (
    <section aria-label="Findings">
      <div className="flex items-center gap-2 pt-2 pb-1.5">
        <Choice
          label="Which findings"
          options={[['all', 'All'] as const, ...LEVELS].flatMap(([level, words]) => {
            const n = findings.filter((f) => level === 'all' || f.level === level).length;
            const counted = (
              <>
                {words} <span className="num">{n}</span>
              </>
            );
            return level === 'all' || n > 0 ? [{ value: level, label: counted }] : [];
          })}
          value={filter}
          onChange={setFilter}
        />
        {fixable.length > 1 && (
          <button
            type="button"
            className={`fix ml-auto ${busy ? 'busy' : ''}`}
            aria-disabled={busy}
            onClick={() =>
              !busy &&
              onFix(
                fixable.map((f) => f.fix),
                filter === 'all',
                fixable.flatMap((f) => f.fix.changes),
              )
            }
          >
            Mend {filter === 'all' ? 'all' : 'these'} <span className="num">{fixable.length}</span>
          </button>
        )}
      </div>
      {shown.map((f) => (
        <Row
          key={keyOf(f)}
          finding={f}
          main={f === first}
          busy={busy}
          widthNow={f.code === 'placing/scale' && facts.kind === 'model' ? facts.sizeMm[kind ? KINDS[kind].told : 0] : null}
          told={kind && KINDS[kind].told === 1 ? 'height' : 'width'}
          other={<OtherPicture finding={f} judged={judged} pictures={pictures} busy={busy} onFix={onFix} />}
          onFix={() => f.fix && onFix([f.fix], false, f.fix.changes)}
          onWidth={onWidth}
          onLet={() => setLetting(f)}
        />
      ))}
      {findings.length === 0 && (
        <div className="finding">
          <Flag kind="done" size={15} />
          <span>Nothing is wrong with it.</span>
        </div>
      )}
      {dismissed.length > 0 && (
        <div className="pt-1">
          <button type="button" className="link text-small" aria-expanded={open} onClick={() => setOpen(!open)}>
            {dismissed.length} left as {dismissed.length === 1 ? 'it is' : 'they are'}
          </button>
          {open &&
            dismissed.map((f) => (
              <div key={keyOf(f)} className="finding" style={{ gridTemplateColumns: '16px minmax(0,1fr) auto', alignItems: 'center' }}>
                <Flag kind={f.level} size={15} />
                <span className="soft min-w-0 break-words">
                  {f.message} <span className="font-medium">{f.reason}</span>
                </span>
                <button type="button" className="fix" onClick={() => onDismiss(f, null)}>
                  Look at it again
                </button>
              </div>
            ))}
        </div>
      )}
      {letting && (
        <NameDialog
          title="Leave this as it is"
          label="Why it may stay"
          initial="Meant so"
          action="Leave it as it is"
          onClose={() => setLetting(null)}
          onDone={(reason) => {
            onDismiss(letting, reason);
            setLetting(null);
          }}
        />
      )}
    </section>
  );
}

/** What a fix does to the picture, before and after: it is pressed by itself. */
function Shows({ view, picture }: NonNullable<NonNullable<Finding['fix']>['shows']>) {
  return (
    <span className="block text-micro leading-[14px] mt-0.5">
      It looks different then, most {view}; it is not mended with the others.
      {picture && (
        // biome-ignore lint/performance/noImgElement: a data address
        <img src={picture} alt={`Before and after, ${view}`} className="block mt-1 max-w-full" style={{ maxHeight: 130 }} />
      )}
    </span>
  );
}

/** Any other picture for a missing one: the ranked ones first, each with its reason. */
function OtherPicture({
  finding,
  judged,
  pictures,
  busy,
  onFix,
}: { finding: Finding } & Pick<FindingsProps, 'judged' | 'pictures' | 'busy' | 'onFix'>) {
  const wanted = judged.facts.kind === 'model' ? judged.facts.wanted.find((w) => w.name === finding.where) : undefined;
  if (!wanted || !/^texture\/(missing|unreadable)$/.test(finding.code)) return null;
  const ranked = rankPictures(wanted, pictures);
  const rest = pictures.filter((p) => !ranked.some((r) => r.picture.sha === p.sha));
  if (ranked.length + rest.length < (finding.fix ? 2 : 1)) return null;
  return (
    <select
      className="fix"
      style={{ maxWidth: 130 }}
      aria-label={`Another picture for ${pictureLeaf(wanted.name)}`}
      value=""
      disabled={busy}
      onChange={(e) => {
        const p = pictures.find((x) => x.sha === e.target.value);
        if (p)
          onFix([{ step: 'relink', settings: { links: [{ wanted: wanted.name, picture: p.sha, name: p.name }] } }], false, [
            `${pictureLeaf(wanted.name)} is taken from ${pictureLeaf(p.name)}.`,
          ]);
      }}
    >
      <option value="">Another picture …</option>
      {ranked.map(({ picture, reason }) => (
        <option key={picture.sha} value={picture.sha}>
          {pictureLeaf(picture.name)}: {reason}
        </option>
      ))}
      {rest.map((p) => (
        <option key={p.sha} value={p.sha}>
          {pictureLeaf(p.name)}
        </option>
      ))}
    </select>
  );
}

function Row({
  finding: f,
  main,
  busy,
  widthNow,
  told,
  other,
  onFix,
  onWidth,
  onLet,
}: {
  finding: Finding;
  main: boolean;
  busy: boolean;
  widthNow: number | null;
  told: string;
  other: ReactNode;
  onFix: () => void;
  onWidth: (mm: number) => void;
  onLet: () => void;
}) {
  const [typing, setTyping] = useState(false);
  return (
    <div className="finding" style={{ gridTemplateColumns: '16px minmax(0,1fr) auto' }} data-finding={f.code}>
      <Flag kind={f.level} size={15} />
      <span className="break-words min-w-0">
        {f.message}
        {f.where && !f.message.includes(f.where) ? <span className="soft"> {f.where}</span> : null}
        {f.fix?.changes.slice(0, 3).map((c) => (
          <span key={c} className="soft block text-micro leading-[14px]">
            {c}
          </span>
        ))}
        {(f.fix?.changes.length ?? 0) > 3 && (
          <span className="soft block text-micro leading-[14px]">and {(f.fix?.changes.length ?? 0) - 3} more</span>
        )}
        {f.fix?.shows && <Shows {...f.fix.shows} />}
        {typing && widthNow !== null && (
          <form
            className="flex items-center gap-1.5 mt-1"
            onSubmit={(e) => {
              e.preventDefault();
              const mm = Number(String(new FormData(e.currentTarget).get('mm')).replace(',', '.'));
              if (mm > 0 && Number.isFinite(mm)) {
                setTyping(false);
                onWidth(mm);
              }
            }}
          >
            <input
              className="field"
              style={{ width: 90 }}
              name="mm"
              inputMode="decimal"
              aria-label={`True ${told} in millimetres`}
              required
            />
            <span className="soft">mm {told}</span>
            <button type="submit" className="fix">
              Size it
            </button>
          </form>
        )}
      </span>
      <span className="flex gap-1.5 items-start">
        {other}
        {f.fix && (
          <button
            type="button"
            className={`fix ${main ? 'fix-main' : ''} ${busy ? 'busy' : ''}`}
            aria-disabled={busy}
            onClick={() => !busy && onFix()}
          >
            {buttonWords(f)}
          </button>
        )}
        {widthNow !== null && (
          <button type="button" className="fix" onClick={() => setTyping(!typing)}>
            Type a {told}
          </button>
        )}
        <button type="button" className="fix" title="Leave it as it is, with a reason" onClick={onLet}>
          Leave as it is
        </button>
      </span>
    </div>
  );
}
