/**
 * What a job's process starts with: code.cjs beside it, as V8 compiled it for the first job with these flags, which takes half the time
 * of compiling it anew. A cache that V8 does not take is made again. Bundled to dist/worker/job.cjs.
 */
import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire, wrap } from 'node:module';
import { Script } from 'node:vm';
import { Worker } from 'node:worker_threads';

const file = `${__dirname}/code.cjs`;
const cache = `${__dirname}/${['code', process.version, ...process.execArgv].join('').replace(/[^\w.]+/g, '-')}.cache`;

function kept(): Buffer | undefined {
  try {
    return readFileSync(cache);
  } catch {
    return undefined;
  }
}

// whoever asked for the work has gone: a thread of its own sees it while the work fills this one
const watch = `setInterval(() => process.ppid !== ${process.ppid} && process.kill(process.pid, 'SIGKILL'), 500)`;
new Worker(watch, { eval: true, stdin: false }).unref();

const cachedData = kept();
const script = new Script(wrap(readFileSync(file, 'utf8')), { filename: file, cachedData });
const module = { exports: {} as typeof import('./job') };
script.runInThisContext()(module.exports, createRequire(file), module, file, __dirname);

if (!cachedData || script.cachedDataRejected)
  void module.exports.loadAll().then(() => {
    try {
      writeFileSync(`${cache}.${process.pid}`, script.createCachedData());
      // whole or not at all: others start beside this one
      renameSync(`${cache}.${process.pid}`, cache);
    } catch {
      // not writable: every job compiles
    }
  });
