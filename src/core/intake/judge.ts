/** All findings of a stock model, once one knows what it is meant to be, whose it is, and what else is in Stock. */

import { isUponForm, NO_TRANSFORM } from '../piece/recipe';
import type { Piece } from '../piece/schema';
import { usedFile } from '../piece/selectors';
import type { FileFacts, StockFacts } from './facts';
import type { Finding, Fix } from './findings';
import { type Credit, licenceFindings } from './licence';
import type { PictureFacts } from './media/facts';
import { describeLie, describeTurn, KINDS, type Kind, lengthWords, SURE, unitWord } from './placing';
import { isAtHome } from './placing/athome';
import { type PictureBrief, relinkFindings } from './relink';

export interface JudgeContext {
  kind: Kind | null;
  credit: Credit;
  /** The model has a recipe. */
  changed: boolean;
  /** It was brought back by the form it was made upon: its place is right. */
  uponForm?: boolean;
  /** Pictures in Stock and come along with its files. */
  pictures: readonly PictureBrief[];
}

/** The form come back: it tells scale, turn and place better than any guess. */
function formFindings(form: NonNullable<StockFacts['form']>): Finding[] {
  const out: Finding[] = [];
  const { factor, turnDeg, shiftM, size } = form;
  const moved = Math.hypot(...shiftM) * 1000;
  const turned = turnDeg.yaw !== 0 || turnDeg.pitch !== 0 || turnDeg.roll !== 0;
  if (form.mirrored)
    out.push({
      code: 'form/mirrored',
      level: 'blocker',
      message: `Form ${size} is in it as its mirror image: sides were swapped where it was modelled. Mirror it back there and bring it in again.`,
    });
  else if (!isAtHome(form)) {
    const words = [
      Math.abs(factor - 1) > 5e-5 && `×${Number(factor.toPrecision(6))}`,
      turned && `turned by ${describeTurn({ yawDeg: turnDeg.yaw, pitchDeg: turnDeg.pitch, rollDeg: turnDeg.roll })}`,
      moved > 0.01 && `moved by ${moved.toFixed(1)} mm`,
    ].filter(Boolean);
    out.push({
      code: 'form/moved',
      level: 'warning',
      message: `Form ${size} came back with it, but not where it was: its size, axes or place were changed elsewhere.`,
      fix: {
        step: 'transform',
        settings: { factor, turnDeg, shiftM, apply: false },
        changes: [`Everything is ${words.join(', ')}: the form then lies where it was, to ${Math.max(0.001, form.rmsMm).toFixed(3)} mm.`],
      },
    });
  }
  out.push({
    code: 'form/shape',
    level: 'warning',
    message: `Form ${size} itself is in the file. The wearer stands in for it: left in, a second head is drawn and delivered.`,
    fix: { step: 'mend', settings: { ops: ['the-form'] }, changes: [`The form’s own shape is taken out; what was made upon it stays.`] },
  });
  return out;
}

function scaleFinding(facts: StockFacts, kind: Kind | null): Finding | null {
  const units = facts.placing[kind ?? 'unstated'].units;
  if (!units || units.factor === 1) return null;
  const sure = kind !== null && units.confidence >= SURE;
  // metres by its standard, and a thing of any size: nothing to be guessed
  const metres = kind === null && (facts.format === 'glb' || facts.format === 'gltf');
  const told = kind ? KINDS[kind].told : facts.sizeMm.indexOf(Math.max(...facts.sizeMm));
  const turn = kind ? facts.placing[kind].orientation : null;
  const order = turn ? turnedOrder(turn) : [0, 1, 2];
  const now = facts.sizeMm[order[told]];
  const word = unitWord(units.factor);
  const fix: Fix = {
    step: 'transform',
    settings: { ...NO_TRANSFORM, factor: units.factor },
    changes: [`${lengthWords(now)} becomes ${lengthWords(now * units.factor)} (×${units.factor}${word ? `: read in ${word}` : ''}).`],
    ...(kind === null ? { alone: true } : {}),
  };
  return {
    code: 'placing/scale',
    level: sure ? 'blocker' : metres ? 'note' : 'warning',
    message: metres
      ? `${lengthWords(now)} at its longest, in metres as glTF says. Say what it is, to have its size judged.`
      : `${units.reason[0].toUpperCase()}${units.reason.slice(1)}.${sure ? '' : ' Say what it is, to be surer.'}`,
    ...(metres ? {} : { fix }),
  };
}

/** Which of the model's own axes becomes side, up, fore. */
function turnedOrder(t: { yawDeg: number; pitchDeg: number; rollDeg: number }): number[] {
  const D = Math.PI / 180;
  const [cx, sx, cy, sy, cz, sz] = [
    Math.cos(t.pitchDeg * D),
    Math.sin(t.pitchDeg * D),
    Math.cos(t.yawDeg * D),
    Math.sin(t.yawDeg * D),
    Math.cos(t.rollDeg * D),
    Math.sin(t.rollDeg * D),
  ];
  // rows of Ry·Rx·Rz
  const rows = [
    [cy * cz + sy * sx * sz, -cy * sz + sy * sx * cz, sy * cx],
    [cx * sz, cx * cz, -sx],
    [-sy * cz + cy * sx * sz, sy * sz + cy * sx * cz, cy * cx],
  ];
  return rows.map((r) => r.map(Math.abs).indexOf(Math.max(...r.map(Math.abs))));
}

/** From this confidence on a turn is offered; under it, it is a note. */
const OFFERED = 0.95;

function turnFinding(facts: StockFacts, kind: Kind | null): Finding | null {
  const turn = kind ? facts.placing[kind].orientation : null;
  if (!turn || (turn.yawDeg === 0 && turn.pitchDeg === 0 && turn.rollDeg === 0)) return null;
  const sure = turn.confidence >= SURE;
  return {
    code: 'placing/turn',
    level: sure ? 'warning' : 'note',
    message: `${turn.reason} (${Math.round(turn.confidence * 100)} % sure).`,
    // a guess is offered where it is right nineteen times of twenty
    ...(turn.confidence >= OFFERED
      ? {
          fix: {
            step: 'transform' as const,
            settings: { ...NO_TRANSFORM, turnDeg: { yaw: turn.yawDeg, pitch: turn.pitchDeg, roll: turn.rollDeg } },
            changes: [`It ${describeLie(turn)} now; turned by ${describeTurn(turn)} it stands right.`],
          },
        }
      : {}),
  };
}

/** A file that is no model: what was found in it, and its licence. */
export function judgeMedia(facts: Pick<FileFacts, 'findings'>, credit: Credit, changed: boolean): Finding[] {
  return inOrder([...facts.findings, ...licenceFindings(credit, changed, '')]);
}

const ORDER = { blocker: 0, warning: 1, note: 2 };

/** What is said of where a model lies. */
const PLACES: ReadonlySet<string> = new Set(['placing/pivot', 'placing/far']);

/** Every finding, blockers first; within a level in the order of work: place, pictures, shapes, rig, licence. */
export function judgeFindings(facts: StockFacts, context: JudgeContext): Finding[] {
  const all = [
    ...(facts.form
      ? formFindings(facts.form)
      : context.uponForm
        ? []
        : [scaleFinding(facts, context.kind), turnFinding(facts, context.kind)]),
    ...relinkFindings(facts.wanted, [...context.pictures, ...facts.loose]),
    ...facts.findings.filter((f) => !(context.uponForm || facts.form) || !PLACES.has(f.code)),
    ...licenceFindings(context.credit, context.changed, facts.credit.says),
  ].filter((f): f is Finding => f !== null);
  return inOrder(all);
}

const inOrder = (all: readonly Finding[]): Finding[] =>
  all
    .map((f, i) => ({ f, i }))
    .sort((a, b) => ORDER[a.f.level] - ORDER[b.f.level] || a.i - b.i)
    .map(({ f }) => f);

/** Credit of a file that nobody has spoken for: what it says itself. */
export const ownCredit = (facts: Pick<StockFacts, 'credit'>): Credit => ({
  author: facts.credit.author,
  source: facts.credit.source,
  licence: facts.credit.licence,
});

/** Files of a piece with what was read of them. */
export interface AtHand {
  original: string;
  model: string;
  facts: FileFacts | null;
}

export interface StockJudgement<F extends FileFacts = FileFacts> {
  facts: F;
  findings: Finding[];
  dismissed: (Finding & { reason: string })[];
}

/** Pictures a piece can put where they are missing: those in Stock, and those that came along with its models. */
export function picturesAtHand(piece: Pick<Piece, 'stock' | 'recipes'>, atHand: readonly AtHand[]): PictureFacts[] {
  const out = new Map<string, PictureFacts>();
  for (const item of Object.values(piece.stock)) {
    const facts = factsOfStock(piece, item.id, atHand);
    if (facts?.kind === 'picture') out.set(facts.sha, { ...facts, name: item.name });
    // what came along is named by the file as it came
    const came = atHand.find((a) => a.original === item.original && a.facts?.kind === 'model')?.facts;
    for (const p of came?.kind === 'model' ? came.loose : []) out.set(p.sha, p);
  }
  return [...out.values()];
}

/** What was read of a stock file as it is used now; null where that is not at hand. */
export function factsOfStock(
  piece: Pick<Piece, 'recipes'> & { stock: Piece['stock'] },
  stockId: string,
  atHand: readonly AtHand[],
): FileFacts | null {
  const item = piece.stock[stockId];
  const used = item && usedFile(piece, stockId);
  const facts = atHand.find((a) => a.original === item?.original && a.model === used)?.facts ?? null;
  return facts?.kind === item?.kind ? facts : null;
}

/** The findings of a stock file as it stands now, those let be apart; null where its facts are not at hand. */
export function judgeStock(piece: Pick<Piece, 'stock' | 'recipes'>, stockId: string, atHand: readonly AtHand[]): StockJudgement | null {
  const item = piece.stock[stockId];
  const facts = factsOfStock(piece, stockId, atHand);
  if (!facts) return null;
  const changed = piece.recipes[stockId] !== undefined;
  const all =
    item.kind === 'model' && facts.kind === 'model'
      ? judgeFindings(facts, {
          kind: item.stated,
          credit: item.credit,
          changed,
          uponForm: isUponForm(piece.recipes[stockId]?.steps ?? []),
          pictures: picturesAtHand(piece, atHand),
        })
      : judgeMedia(facts, item.credit, changed);
  const reasonOf = (f: Finding) => item.dismissed.find((d) => d.code === f.code && d.where === (f.where ?? ''))?.reason;
  return {
    facts,
    findings: all.filter((f) => reasonOf(f) === undefined),
    dismissed: all.flatMap((f) => {
      const reason = reasonOf(f);
      return reason === undefined ? [] : [{ ...f, reason }];
    }),
  };
}
