/** What stands between a piece and its delivery, point by point. */

import { licenceBlockers, PROFILES, packageContents, rootsOf } from '@/core/deliver';
import { judgeStock } from '@/core/intake';
import { type Piece, stockOf } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { type FlagKind, spareText } from '../kit';
import type { PackageWeight } from './context';
import type { PieceState } from './store';

export interface Point {
  is: 'parts' | 'weight' | 'findings' | 'licences' | 'saved';
  flag: Extract<FlagKind, 'done' | 'blocker' | 'warning' | 'waits'>;
  title: string;
  more: string;
}

function weightPoint(weight: PackageWeight, limit: number): Omit<Point, 'is'> {
  if (weight.is === 'waits') return { flag: 'waits', title: 'It is being weighed', more: 'The package is built as it would be delivered' };
  if (weight.is === 'failed') return { flag: 'warning', title: 'It could not be weighed', more: weight.why };
  const more = spareText(weight.bytes, limit);
  return weight.bytes <= limit
    ? { flag: 'done', title: 'It is under the load line', more }
    : { flag: 'blocker', title: 'It is over the load line', more };
}

export function readiness(doc: Piece, assets: PieceState['assets'], save: PieceState['save'], weight: PackageWeight): Point[] {
  const { parts } = packageContents(doc);
  const findings = [...new Set(parts.flatMap((p) => stockOf(p) ?? []))].flatMap((s) => judgeStock(doc, s, assets)?.findings ?? []);
  const unlicensed = licenceBlockers(doc);
  const blockers = findings.filter((f) => f.level === 'blocker').length;
  const warnings = findings.filter((f) => f.level === 'warning').length;
  return [
    parts.length > 0
      ? {
          is: 'parts',
          flag: 'done',
          title: `${counted(parts.length, 'part')} will be delivered`,
          more: `Visible and hung, under ${rootsOf(doc, parts).join(', ')}`,
        }
      : { is: 'parts', flag: 'blocker', title: 'Nothing would be delivered', more: 'Hang a part in Fit' },
    { is: 'weight', ...weightPoint(weight, PROFILES[doc.settings.profile].bytes) },
    blockers > 0
      ? {
          is: 'findings',
          flag: 'blocker',
          title: `${counted(blockers, 'blocker')} in its files`,
          more: 'They are told in Stock, file by file',
        }
      : {
          is: 'findings',
          flag: 'done',
          title: 'No blockers in its files',
          more: warnings > 0 ? `${counted(warnings, 'warning')} told in Stock` : 'No warnings either',
        },
    unlicensed.length > 0
      ? {
          is: 'licences',
          flag: 'blocker',
          title: unlicensed[0].why,
          more: unlicensed.length > 1 ? `and ${unlicensed.length - 1} more` : 'Say where it came from',
        }
      : { is: 'licences', flag: 'done', title: 'Its licences permit delivery', more: 'As said in Stock, file by file' },
    save === 'saved'
      ? { is: 'saved', flag: 'done', title: 'Everything is saved', more: 'The package holds what you see' }
      : { is: 'saved', flag: 'warning', title: 'Not all is saved yet', more: 'The package holds the newest revision in the Yard' },
  ];
}
