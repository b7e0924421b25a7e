'use client';
import { History, Redo2, Search, Undo2 } from 'lucide-react';
import { useSelectedLayoutSegment } from 'next/navigation';
import { type ReactNode, useEffect, useState } from 'react';
import { PROFILES } from '@/core/deliver';
import { showMegabytes } from '@/core/math';
import { anchorOf, isMade, settings } from '@/core/piece';
import { ActsLayer, doAct, useActs, useKeyOf } from '../acts';
import {
  AccountMenu,
  Boat,
  lazily,
  NameInPlace,
  PageLink,
  PressMenus,
  spareText,
  Tips,
  Toasts,
  useAddress,
  useGo,
  useOwnSteps,
  Waterline,
} from '../kit';
import { useDocument, usePiece, useWeight } from '../piece/context';
import { ConflictDialog, SaveMark } from '../piece/savestate';
import { FilesZone } from '../stock/zone';
import { Route, RouteStrip } from './route';
import { STEP_NAMES, STEPS, type Step } from './steps';

const Everything = lazily(() => import('./everything'), 'Everything');
const VersionsDialog = lazily(() => import('../piece/versions'), 'VersionsDialog');

const UNKNOWN: Record<string, string> = { waits: 'being weighed …', failed: 'could not be weighed' };

function Gauge() {
  const doc = useDocument();
  const weight = useWeight();
  const bytes = weight.is === 'known' ? weight.bytes : null;
  const profile = PROFILES[doc.settings.profile];
  const id = usePiece((s) => s.id);
  const over = bytes !== null && bytes > profile.bytes;
  const unhung = Object.values(doc.parts).filter((p) => isMade(p) && anchorOf(doc, p) === null).length;
  const stocked = Object.keys(doc.stock).length;
  const words =
    bytes === null
      ? UNKNOWN[weight.is]
      : bytes > 0
        ? spareText(bytes, profile.bytes)
        : unhung > 0 || stocked > 0
          ? 'not hung weighs nothing'
          : 'nothing hung yet';
  return (
    <PageLink
      href={`/piece/${id}/deliver`}
      className="flex items-center gap-2.5 pl-2 pr-3 border-l border-[color:var(--hair)] narrow-off"
      title={weight.is === 'failed' ? weight.why : `Waterline: the package as it would be built now, against the profile ${profile.label}`}
      data-weight={bytes ?? undefined}
    >
      <span className="mid">
        <Waterline bytes={bytes} limit={profile.bytes} width={112} height={38} />
      </span>
      <span className="leading-tight">
        <span className="num text-[13px] font-medium block" style={over ? { color: 'var(--vermilion)', fontWeight: 600 } : undefined}>
          {bytes === null ? '–' : showMegabytes(bytes)}
          <span className="unit">of {showMegabytes(profile.bytes)} MB</span>
        </span>
        <span className="text-micro soft block leading-[12px] mid">{words}</span>
      </span>
    </PageLink>
  );
}

/** Top bar, route and the step itself, whose page the address names. */
export function StepShell({ account, children }: { account: string; children: ReactNode }) {
  const segment = useSelectedLayoutSegment();
  const step = STEPS.find((s) => s === segment) ?? 'stock';
  const doc = useDocument();
  const yard = usePiece((s) => s.yard);
  const commit = usePiece((s) => s.commit);
  const history = usePiece((s) => s.history);
  const undo = usePiece((s) => s.undo);
  const redo = usePiece((s) => s.redo);
  const id = usePiece((s) => s.id);
  const go = useGo();
  const [naming, setNaming] = useState(false);
  const [versions, setVersions] = useState(false);
  const own = useOwnSteps();
  const goBack = own.undo?.run ?? undo;
  const goOn = own.redo?.run ?? redo;
  const lastDone = own.undo?.label ?? history.undo.at(-1)?.label;
  const lastUndone = own.redo?.label ?? history.redo.at(-1)?.label;
  const undoKey = useKeyOf('undo');
  const redoKey = useKeyOf('redo');
  const findKey = useKeyOf('find');
  const to = (s: Step) => ({ run: () => void go(`/piece/${id}/${s}`) });
  useActs({
    undo: { run: goBack, off: lastDone ? null : 'nothing to undo.' },
    redo: { run: goOn, off: lastUndone ? null : 'nothing to do again.' },
    'rename-piece': { run: () => setNaming(true) },
    versions: { run: () => setVersions(true) },
    stock: to('stock'),
    prepare: to('prepare'),
    rig: to('rig'),
    fit: to('fit'),
    trial: to('trial'),
    deliver: to('deliver'),
    yard: { run: () => void go(`/yard/${yard.id}`) },
  });
  // after what the page's own metadata says: a piece is told apart by its name
  useEffect(() => {
    document.title = `${doc.settings.name}, ${STEP_NAMES[step]} · Scaphos`;
  }, [doc.settings.name, step]);
  const lookAt = usePiece((s) => s.look);
  const [, putFile] = useAddress('file');
  const look = (file: string) => {
    lookAt(file);
    if (step === 'stock') putFile(file, 'visit');
  };
  return (
    <FilesZone here={step === 'stock'} onLook={look}>
      <div className="shell">
        <a className="skip" href="#step">
          To the step
        </a>
        <header className="shell-bar land flex items-stretch rule-double min-w-0">
          <PageLink
            href={`/yard/${yard.id}`}
            className="shell-home flex items-center gap-2 pl-3 pr-3 border-r border-[color:var(--hair)]"
            aria-label="Yard"
            title="Back to the Yard"
          >
            <Boat />
            <span className="text-small font-semibold narrow-off">Yard</span>
          </PageLink>
          <h1 className="shell-name flex min-w-0">
            {naming ? (
              <NameInPlace
                label="Name of the piece"
                initial={doc.settings.name}
                className="named text-[18px] h-[30px]! mx-2 self-center"
                onDone={(name) => commit(settings({ name }))}
                onLeave={() => setNaming(false)}
              />
            ) : (
              <button
                type="button"
                className="flex flex-col justify-center px-3.5 min-w-0 w-full text-left cursor-pointer"
                title={`Rename the piece: ${doc.settings.name}`}
                onClick={() => setNaming(true)}
              >
                <span className="named text-[18px] leading-[21px] truncate w-full font-normal" dir="auto">
                  {doc.settings.name}
                </span>
                <span className="text-micro soft leading-[13px] truncate w-full font-normal">{yard.name}</span>
              </button>
            )}
          </h1>
          <div className="flex items-center gap-1.5 px-3 border-x border-[color:var(--hair)] text-small whitespace-nowrap">
            <SaveMark />
          </div>
          <div className="flex items-center px-1.5 border-r border-[color:var(--hair)]">
            <button
              type="button"
              className="btn btn-bare btn-sm px-2"
              aria-label="Undo"
              title={lastDone ? `Undo: ${lastDone}${undoKey && ` (${undoKey})`}` : 'Nothing to undo'}
              aria-disabled={!lastDone}
              onClick={goBack}
            >
              <Undo2 className="ico" />
              <span className="wide">Undo</span>
            </button>
            <button
              type="button"
              className="btn btn-bare btn-sm px-2"
              aria-label="Redo"
              title={lastUndone ? `Redo: ${lastUndone}${redoKey && ` (${redoKey})`}` : 'Nothing to redo'}
              aria-disabled={!lastUndone}
              onClick={goOn}
            >
              <Redo2 className="ico" />
              <span className="wide">Redo</span>
            </button>
            <button
              type="button"
              className="btn btn-bare btn-sm px-2 narrow-off"
              aria-label="Versions"
              title="Versions: states of the piece with a name, and going back to one"
              onClick={() => setVersions(true)}
            >
              <History className="ico" />
              <span className="wide">Versions</span>
            </button>
          </div>
          <div className="shell-find flex items-center justify-center px-3 min-w-0">
            <button
              type="button"
              className="pick w-full max-w-[300px] h-[28px] min-w-[30px]"
              aria-label="Find anything"
              onClick={() => doAct('find')}
            >
              <span className="flex items-center gap-2 soft">
                <Search className="ico" />
                <span className="mid truncate">Find anything</span>
              </span>
              {findKey && <span className="key wide">{findKey}</span>}
            </button>
          </div>
          <Gauge />
          <div className="flex items-center gap-1.5 px-3 border-l border-[color:var(--hair)]">
            <AccountMenu name={account} />
          </div>
        </header>
        <Route current={step} />
        <RouteStrip current={step} />
        <main className="min-w-0 min-h-0 land" id="step" tabIndex={-1}>
          {children}
        </main>
        {/* what was done last is heard: hung, mended, deleted, taken back */}
        <p className="sr-only" aria-live="polite">
          {history.undo.length + history.redo.length > 0
            ? `${history.redo.length > 0 ? 'Undone back to' : 'Done'}: ${history.undo.at(-1)?.label ?? 'the beginning'}`
            : ''}
        </p>
        <ConflictDialog />
        {versions && <VersionsDialog onClose={() => setVersions(false)} />}
        <ActsLayer more={(close) => <Everything onClose={close} />} />
        <PressMenus />
        <Tips />
        <Toasts />
      </div>
    </FilesZone>
  );
}
