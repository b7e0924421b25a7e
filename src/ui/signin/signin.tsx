'use client';
import { useRouter } from 'next/navigation';
import { type FormEvent, useState } from 'react';
import { door } from '@/api/door';
import { Flag } from '../kit/flags';
import { Boat } from '../kit/icons';
import { useSize } from '../kit/size';
import board from './board.webp';

function Field({
  label,
  name,
  type,
  autoComplete,
  defaultValue,
}: {
  label: string;
  name: string;
  type: string;
  autoComplete: string;
  defaultValue?: string;
}) {
  return (
    <label className="block">
      <span className="text-small font-medium block mb-1">{label}</span>
      <input className="field" name={name} type={type} autoComplete={autoComplete} defaultValue={defaultValue} required />
    </label>
  );
}

/** Signing in, or on the first visit of all: the first account and its yard. Then one is back on the page one was sent here from. */
export function SignIn({ first, demo, back }: { first: boolean; demo: string | null; back: string }) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const go = async (act: () => Promise<unknown>) => {
    setBusy(true);
    setError(null);
    try {
      await act();
      router.replace(back);
      router.refresh();
    } catch (e) {
      setError((e as Error).message);
      setBusy(false);
    }
  };
  const submit = (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault();
    const data = new FormData(e.currentTarget);
    const text = (k: string) => String(data.get(k) ?? '');
    void go(() =>
      first
        ? door.setUp({ name: text('name').trim(), yard: text('yard').trim(), email: text('email').trim(), password: text('password') })
        : door.signIn(text('email'), text('password')),
    );
  };
  return (
    <main className="h-screen grid land" style={{ gridTemplateColumns: 'minmax(0,1fr) min(724px, 56vw)' }}>
      <section className="flex flex-col px-14 py-9 min-h-0 overflow-y-auto">
        <div className="flex items-center gap-3">
          <Boat size={40} />
          <span className="text-[20px] font-semibold tracking-[-.01em]">Scaphos</span>
        </div>
        <div className="my-auto w-full py-4" style={{ maxWidth: 420 }}>
          <h1 className="text-[34px] leading-[40px] font-semibold tracking-[-.015em]" style={{ textWrap: 'balance' }}>
            See where it shows before anyone wears it.
          </h1>
          <p className="text-body soft mt-2.5 mb-6" style={{ maxWidth: '40ch' }}>
            A loft for things worn, hung on print or stood on the ground: measured, made light, fitted and handed over in open formats.
          </p>
          <section className="sheet px-5 pt-4 pb-5">
            <h2 className="text-[15px] font-semibold rule-double pb-2 mb-3.5">
              {first ? 'Make the first account and its yard' : 'Sign in to your Yard'}
            </h2>
            <form className="grid gap-3" onSubmit={submit}>
              {first && <Field label="Your name" name="name" type="text" autoComplete="name" />}
              {first && <Field label="Name of the yard" name="yard" type="text" autoComplete="organization" />}
              <Field label="Email" name="email" type="email" autoComplete="username" />
              <Field
                label={first ? 'Password, at least 10 characters' : 'Password'}
                name="password"
                type="password"
                autoComplete={first ? 'new-password' : 'current-password'}
              />
              {error && (
                <p className="flex gap-2 text-small" role="alert">
                  <Flag kind="blocker" size={15} />
                  <span>{error}</span>
                </p>
              )}
              <button type="submit" className={`btn btn-primary w-full ${busy ? 'busy' : ''}`} style={{ height: 36 }} aria-disabled={busy}>
                {first ? 'Make them' : 'Sign in'}
              </button>
            </form>
          </section>
          {demo && (
            <section className="mt-3 border border-dashed border-[color:var(--hair-strong)] px-5 py-3.5 flex items-center gap-4">
              <span className="flex-1 leading-[18px]">
                <b className="text-[13px] font-semibold block">Look round in the demo account</b>
                <span className="text-small soft">
                  <span className="named text-[14.5px]" style={{ color: 'var(--ink)' }}>
                    {demo}
                  </span>
                  , with pieces to take apart.
                </span>
              </span>
              <button type="button" className="btn btn-line" onClick={() => void go(door.signInDemo)}>
                Open the demo
              </button>
            </section>
          )}
        </div>
      </section>
      <Board />
    </main>
  );
}

const PX_PER_MM = 1.3;
/** Of the picture, CSS pixels: the form turned by −24° (of /sign-in before it was kept, at twice its pixels). */
const BOARD_PX = [500, 620];

/** The form on a measured board, a rendering of the stage kept as a picture: nobody waits for a stage to sign in. */
function Board() {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const x = width / 2;
  const y = height / 2 - 50 * PX_PER_MM;
  return (
    <section className="water border-l border-[color:var(--hair-strong)] p-8" aria-label="The fitting form, size M, on a measured board">
      <div
        ref={ref}
        className="relative w-full h-full border border-[color:var(--ink)] outline outline-1 outline-offset-3 outline-[color:var(--hair-strong)] overflow-hidden"
        style={{
          backgroundImage: 'linear-gradient(var(--grat) 1px, transparent 1px), linear-gradient(90deg, var(--grat) 1px, transparent 1px)',
          backgroundSize: `${20 * PX_PER_MM}px ${20 * PX_PER_MM}px`,
          backgroundPosition: `${x}px ${y}px`,
        }}
      >
        {/* biome-ignore lint/performance/noImgElement: already of the size it is shown at */}
        <img
          src={board.src}
          alt=""
          width={BOARD_PX[0]}
          height={BOARD_PX[1]}
          className="absolute left-1/2 top-1/2 -translate-x-1/2 -translate-y-1/2 max-w-none"
          style={{ opacity: 'var(--img-dim)' }}
        />
        <svg className="plate absolute inset-0 w-full h-full" style={{ background: 'transparent' }} aria-hidden="true">
          <path className="datum" d={`M${x} 0V${height}M0 ${y}H${width}`} fill="none" />
        </svg>
        <div className="absolute left-4 top-4 sheet px-3 py-2">
          <p className="named text-[19px] leading-[22px]">Form M</p>
          <p className="text-small soft">
            head <span className="num">192</span> mm long, <span className="num">151</span> mm broad
          </p>
        </div>
        <p className="absolute left-4 bottom-3 text-micro soft">1 square = 20 mm</p>
      </div>
    </section>
  );
}
