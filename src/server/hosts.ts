/**
 * Names this Scaphos is reached by. A page of another name that resolves here (DNS rebinding) is answered nothing: its requests would
 * come from its own origin.
 */

/** As the command line sets it: hosts with their ports, the public one first if there is one. */
const listed = () => (process.env.SCAPHOS_HOSTS ?? '').split(',').filter(Boolean);

/** What the request was sent to, or null where that is none of ours. A proxy in front says so only where a public address is set. */
export function hostOf(headers: { get(name: string): string | null }): string | null {
  const forwarded = process.env.SCAPHOS_PUBLIC ? headers.get('x-forwarded-host') : null;
  const host = (forwarded ?? headers.get('host') ?? '').toLowerCase();
  const known = listed();
  return known.length === 0 || known.includes(host) ? host || null : null;
}

export const MISDIRECTED = 'This Scaphos is not reached by that name. Open it at its own address, or start it with SCAPHOS_PUBLIC set.';
