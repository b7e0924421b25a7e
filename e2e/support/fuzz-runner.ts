/** Reads mutated files one after another in this process, and says of each what came of it. Its parent watches for silence and death. */
import { runIntake } from '@/worker/node/intake';

process.on('message', async (m: { name: string; path: string }) => {
  const started = performance.now();
  let outcome: string;
  try {
    const { items } = await runIntake({ files: [m] });
    const [item] = items;
    const blocked = item.facts.findings.some((f) => f.level === 'blocker');
    outcome = blocked ? 'read, with a blocker' : 'read';
  } catch (error) {
    const { code, message } = error as { code?: unknown; message: string };
    outcome = typeof code === 'string' && /^[a-z0-9]+\/[a-z-]+$/.test(code) ? code : `unexpected: ${message.slice(0, 80)}`;
  }
  process.send?.({ outcome, ms: performance.now() - started });
});
process.send?.({ outcome: 'ready', ms: 0 });
