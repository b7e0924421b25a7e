/** What a server bears; with a word, that part alone. */
import { beside } from './beside';
import { copy } from './copy';
import { hasFailed } from './judge';
import { kills } from './kills';
import { pace } from './pace';

const PARTS: Record<string, () => Promise<void>> = { kills, pace, beside, copy };
const asked = process.argv[3];
for (const [name, part] of Object.entries(PARTS)) if (!asked || asked === name) await part();
process.exit(hasFailed() ? 1 : 0);
