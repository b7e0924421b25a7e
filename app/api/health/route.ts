import { database, healthOf } from '@/server';

export const dynamic = 'force-dynamic';

export async function GET() {
  try {
    return Response.json(await healthOf(database()));
  } catch {
    return Response.json({ ok: false, error: { code: 'http/database', message: 'The database does not answer.' } }, { status: 503 });
  }
}
