import { database } from '@/server';

export const dynamic = 'force-dynamic';

export async function GET() {
  try {
    await database().raw('select 1').timeout(3000);
    return Response.json({ ok: true, database: 'answers' });
  } catch {
    return Response.json({ ok: false, error: { code: 'http/database', message: 'The database does not answer.' } }, { status: 503 });
  }
}
