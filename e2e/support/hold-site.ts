/** One site with the demo data for several kinds of tests, held until it is told to go: `node hold-site.js FILE` writes how to reach it. */
import { writeFileSync } from 'node:fs';
import { seedDemo } from '@/cli/serve';
import { startTestSite } from './site';

const site = await startTestSite({ SCAPHOS_DEMO: '1' });
await seedDemo(site.dbUrl, site.dataDir);
const told = {
  SCAPHOS_TEST_URL: site.url,
  SCAPHOS_E2E_URL: site.url,
  SCAPHOS_DB_URL: site.dbUrl,
  SCAPHOS_DATA: site.dataDir,
  SCAPHOS_LOG: 'error',
  SCAPHOS_TEST_PID: String(site.pid),
};
writeFileSync(
  process.argv[2],
  Object.entries(told)
    .map(([k, v]) => `export ${k}='${v}'\n`)
    .join(''),
);
await new Promise((gone) => process.once('SIGTERM', gone));
await site.stop();
