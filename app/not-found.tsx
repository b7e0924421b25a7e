import Link from 'next/link';

export default function NotFound() {
  return (
    <main className="land h-screen grid place-items-center">
      <div className="empty px-10 py-8 text-small">
        <b className="block text-[15px] mb-1" style={{ color: 'var(--ink)' }}>
          There is nothing at this address
        </b>
        It may have been deleted, or belong to a yard you are not in.
        <Link className="btn btn-primary btn-sm mt-3 mx-auto" href="/">
          To your yard
        </Link>
      </div>
    </main>
  );
}
