/** `./scaphos inspect FILE… --json`: the facts of Stock, headless. */
import { stat } from 'node:fs/promises';
import type { ModelFacts, Unreadable } from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';
import { intake, JobError } from '@/worker/node';

type Row = { file: string } & (ModelFacts | Unreadable);

async function inspectFile(file: string): Promise<Row> {
  const found = await stat(file).catch(() => null);
  if (!found) return { file, readable: false, error: { code: 'file/not-found', message: `There is no file ${file}.` } };
  if (!found.isFile()) return { file, readable: false, error: { code: 'file/not-a-file', message: `${file} is not a file.` } };
  try {
    const { facts } = await intake({ files: [{ name: file.slice(file.lastIndexOf('/') + 1), path: file }], fromDisk: true });
    return { file, ...facts };
  } catch (error) {
    if (error instanceof JobError) return { file, readable: false, error: { code: error.code, message: error.message } };
    throw error;
  }
}

function print(row: Row): string {
  if (!row.readable) return `${row.file}\n  cannot be read: ${row.error.message} [${row.error.code}]`;
  const mm = row.sizeMm.map((x) => x.toFixed(1)).join(' × ');
  const lines = [
    row.file,
    `  ${row.format}, ${showMegabytes(row.bytes)} MB, ${mm} mm (side × up × fore)`,
    `  ${showCount(row.triangles)} triangles, ${showCount(row.vertices)} vertices, ${row.meshes} meshes, ${row.materials} materials, ${row.bones} bones`,
    ...row.textures.map((t) => `  texture ${t.name}: ${t.width} × ${t.height} px, ${showMegabytes(t.bytes)} MB, ${t.type}`),
    ...row.clips.map((c) => `  clip ${c.name}: ${c.seconds} s`),
    ...row.findings.map((f) => `  ${f.level}: ${f.message}${f.where ? ` (${f.where})` : ''} [${f.code}]`),
  ];
  return lines.join('\n');
}

/** Exit code: the highest of 0 read, 1 read with a blocker, 2 not readable. */
export async function inspectCommand(files: string[], json: boolean): Promise<number> {
  let exit = 0;
  for (const file of files) {
    const row = await inspectFile(file);
    process.stdout.write(`${json ? JSON.stringify(row) : print(row)}\n`);
    exit = Math.max(exit, row.readable ? (row.findings.some((f) => f.level === 'blocker') ? 1 : 0) : 2);
  }
  return exit;
}
