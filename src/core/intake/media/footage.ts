/** Test films: what trials will replay. */
import type { Finding } from '../findings';
import type { FootageFacts } from './facts';

export function footageFindings(f: Pick<FootageFacts, 'width' | 'height' | 'fps' | 'seconds'>): Finding[] {
  const out: Finding[] = [];
  if (Math.min(f.width, f.height) < 480)
    out.push({
      code: 'footage/small',
      level: 'note',
      message: `It is ${f.width} × ${f.height} px: small for finding faces and markers in it. 720 px or more on the short side serve better.`,
    });
  if (f.fps > 0 && f.fps < 20)
    out.push({
      code: 'footage/slow',
      level: 'note',
      message: `It has ${f.fps.toFixed(0)} frames a second: quick turns fall between them.`,
    });
  if (f.seconds > 300)
    out.push({
      code: 'footage/long',
      level: 'note',
      message: `It runs ${Math.round(f.seconds / 60)} minutes. A trial needs seconds: cut it.`,
    });
  return out;
}
