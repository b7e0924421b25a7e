/** Lines of a measurement, each held to its bound. */
export const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));
export const say = (line: string) => console.log(line);

let failed = false;
export const hasFailed = () => failed;
/** Says it, and marks it where it does not hold. */
export function judge(well: boolean, line: string): void {
  failed ||= !well;
  say(`${well ? '  ' : '! '}${line}`);
}
/** All are told by number, the first by their words. */
export function judgeFaults(faults: readonly string[]): void {
  for (const f of faults.slice(0, 10)) say(`  ${f}`);
  judge(faults.length === 0, `${faults.length} faults`);
}

/** A figure given by the environment, else the usual one. */
export const given = (name: string, usual: number) => Number(process.env[name] ?? usual);
