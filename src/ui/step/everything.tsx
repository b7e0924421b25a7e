'use client';
/** What the finder finds in a piece besides acts: steps, files, findings, parts, and the other pieces of the yard. */
import { useQuery } from '@tanstack/react-query';
import { api } from '@/api';
import { judgeStock } from '@/core/intake';
import { Found, FoundGroup } from '../acts/finder';
import { PART_MARKS } from '../fit/kinds';
import { Flag, Mark, useGo } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { STEP_NAMES, STEPS } from './steps';

export function Everything({ onClose }: { onClose: () => void }) {
  const go = useGo();
  const doc = useDocument();
  const id = usePiece((s) => s.id);
  const yard = usePiece((s) => s.yard);
  const assets = usePiece((s) => s.assets);
  const select = usePiece((s) => s.select);
  const look = usePiece((s) => s.look);
  const { data: pieces } = useQuery({ queryKey: ['pieces', yard.id], queryFn: () => api.listPieces(yard.id), retry: false });
  const to = (href: string, before?: () => void) => () => {
    before?.();
    onClose();
    void go(href);
  };
  const files = Object.values(doc.stock);
  const toFile = (file: string) => to(`/piece/${id}/stock?file=${file}`, () => look(file));
  const findings = files.flatMap((f) => (judgeStock(doc, f.id, assets)?.findings ?? []).map((finding) => ({ file: f, finding })));
  const others = (pieces ?? []).flatMap((p) => ('name' in p && !p.deletedAt && p.id !== id ? [p] : []));
  return (
    <>
      <FoundGroup heading="Steps">
        {STEPS.map((s) => (
          <Found key={s} id={s} words={`step ${STEP_NAMES[s]}`} onSelect={to(`/piece/${id}/${s}`)}>
            {STEP_NAMES[s]}
          </Found>
        ))}
        <Found id={yard.id} words={`Yard ${yard.name}`} onSelect={to(`/yard/${yard.id}`)}>
          Back to the Yard
        </Found>
      </FoundGroup>
      <FoundGroup heading="Parts">
        {doc.orders.parts.map((p) => (
          <Found
            key={p}
            id={p}
            words={`part ${doc.parts[p].name}`}
            mark={<Mark name={PART_MARKS[doc.parts[p].kind]} className="soft" />}
            onSelect={to(`/piece/${id}/fit?parts=${p}`, () => select(p))}
          >
            <span className="named text-[14px]">{doc.parts[p].name}</span>
          </Found>
        ))}
      </FoundGroup>
      <FoundGroup heading="Files of Stock">
        {files.map((f) => (
          <Found key={f.id} id={f.id} words={`file ${f.name}`} note={f.kind} onSelect={toFile(f.id)}>
            {f.name}
          </Found>
        ))}
      </FoundGroup>
      <FoundGroup heading="Findings">
        {findings.map(({ file, finding }) => (
          <Found
            key={`${file.id} ${finding.code} ${finding.where ?? ''} ${finding.message}`}
            id={`${file.id} ${finding.code} ${finding.where ?? ''}`}
            words={`finding ${finding.message} ${file.name}`}
            mark={<Flag kind={finding.level} />}
            note={file.name}
            onSelect={toFile(file.id)}
          >
            {finding.message}
          </Found>
        ))}
      </FoundGroup>
      <FoundGroup heading={`Other pieces of ${yard.name}`}>
        {others.map((p) => (
          <Found key={p.id} id={p.id} words={`piece ${p.name}`} onSelect={to(`/piece/${p.id}/stock`)}>
            <span className="named text-[14px]">{p.name}</span>
          </Found>
        ))}
      </FoundGroup>
    </>
  );
}
