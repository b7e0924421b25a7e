'use client';

export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  return (
    <main className="land h-screen grid place-items-center">
      <div className="empty px-10 py-8 text-small" role="alert">
        <b className="block text-[15px] mb-1" style={{ color: 'var(--ink)' }}>
          This page failed
        </b>
        What you did is kept in this browser and in the Yard.
        <button type="button" className="btn btn-primary btn-sm mt-3 mx-auto" onClick={reset}>
          Try it again
        </button>
      </div>
    </main>
  );
}
