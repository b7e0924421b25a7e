/**
 * Signing in, for the page before everything else: without the schemas of the typed client, whose weight that page need not have. Only
 * whether it worked is asked, and the server's sentence where it did not.
 */
async function knock(url: string, body: unknown): Promise<void> {
  const response = await fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  }).catch(() => {
    throw new Error('The server does not answer, so nothing was done there. Try again when it is back.');
  });
  if (response.ok) return;
  const told: { error?: { message?: unknown } } = await response.json().catch(() => ({}));
  const message = told.error?.message;
  throw new Error(typeof message === 'string' ? message : `The server answered with ${response.status}.`);
}

export const door = {
  signIn: (email: string, password: string) => knock('/api/session', { email, password }),
  signInDemo: () => knock('/api/session/demo', {}),
  setUp: (body: { name: string; email: string; password: string; yard: string }) => knock('/api/setup', body),
};
