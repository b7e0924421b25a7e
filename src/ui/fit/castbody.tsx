'use client';
/** Measures of the body of who is shown: its size's, and those that are their own. */
import { useState } from 'react';
import { FORM_SIZES } from '@/core/form';
import { BODY_MEASURES, BODY_RANGE } from '@/core/form/body/ask';
import { BODY_PRESETS } from '@/core/form/body/measures';
import { BODY_LABELS, bodyContradictions } from '@/core/form/body/words';
import { bodyAt, bodyHasSpread, type People, percentileOf } from '@/core/form/people';
import { bodyAskOf, type Wearer } from '@/core/piece';
import { Choice, NumField } from '../kit';
import type { Shape } from './castmeasures';
import { AllAt, Contradicting, Row, Slider } from './castrow';

const SIZES = FORM_SIZES.map((size) => ({ value: size, label: size, title: `A body of size ${size}` }));

export function BodyMeasures({
  who,
  now,
  people,
  onHold,
  onKeep,
}: {
  who: Wearer;
  now: Shape;
  people: People;
  onHold: (part: Partial<Shape>) => void;
  onKeep: (part?: Partial<Shape>) => void;
}) {
  const [share, setShare] = useState(50);
  const { row } = who;
  const following = `as size ${now.size} has it`;
  return (
    <>
      <div className="flex items-center gap-2 pt-2.5">
        <h3 className="font-semibold mr-auto">Body</h3>
        {row && <Choice label="Body of the wearer" options={SIZES} value={now.size} onChange={(size) => onKeep({ size })} />}
      </div>
      {row && (
        <AllAt
          label="All of the body at a share of people"
          share={share}
          onSlide={(n) => {
            setShare(n);
            onHold({ body: { ...now.body, ...bodyAt(n / 100, people) } });
          }}
          onKeep={() => onKeep()}
        />
      )}
      <Contradicting words={row ? bodyContradictions(bodyAskOf({ ...who, row: { ...row, ...now } })) : []} />
      {BODY_MEASURES.map((m) => {
        const own = now.body[m];
        const value = own ?? BODY_PRESETS[now.size][m];
        const put = (mm: number | null) => ({ body: { ...now.body, [m]: mm } });
        return (
          <Row
            key={m}
            label={BODY_LABELS[m]}
            share={bodyHasSpread(m) ? percentileOf(m, value, people) : null}
            follows={row !== null && own === null}
            following={following}
            onFollow={row && own !== null ? () => onKeep(put(null)) : null}
            slider={
              row && (
                <Slider
                  label={BODY_LABELS[m]}
                  range={BODY_RANGE[m]}
                  step={1}
                  value={value}
                  onSlide={(mm) => onHold(put(mm))}
                  onKeep={() => onKeep()}
                />
              )
            }
          >
            <NumField
              label={`${BODY_LABELS[m]}, mm`}
              dimension="length"
              unit="mm"
              decimals={0}
              step={0.005}
              min={BODY_RANGE[m][0] / 1000}
              max={BODY_RANGE[m][1] / 1000}
              value={value / 1000}
              disabledWhy={row ? undefined : 'A size stays as it is'}
              onChange={(metres) => onKeep(put(Math.round(metres * 10000) / 10))}
            />
          </Row>
        );
      })}
    </>
  );
}
