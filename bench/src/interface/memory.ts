import { readdirSync, readFileSync } from 'node:fs';

export const MB = 1024 * 1024;

function statusOf(pid: number | string): string {
  try {
    return readFileSync(`/proc/${pid}/status`, 'utf8');
  } catch {
    return '';
  }
}

/** Memory a process holds, in bytes. */
export function residentBytes(pid: number | string): number {
  return Number(/VmRSS:\s+(\d+)/.exec(statusOf(pid))?.[1] ?? 0) * 1024;
}

/** The browser this process started. */
export function browserPid(): number {
  const own = readdirSync('/proc').filter(
    (pid) => /^\d+$/.test(pid) && Number(/PPid:\s+(\d+)/.exec(statusOf(pid))?.[1]) === process.pid,
  );
  const found = own.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('chrom'));
  if (found === undefined) throw new Error('The browser is not among the processes.');
  return Number(found);
}

/** The largest page process below the browser, in bytes. */
export function largestRenderer(browser: number): number {
  const parents = new Map<number, number>();
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name)))
    parents.set(Number(pid), Number(/PPid:\s+(\d+)/.exec(statusOf(pid))?.[1] ?? 0));
  const below = (pid: number): boolean =>
    pid === browser || (parents.has(pid) && parents.get(pid) !== 0 && below(parents.get(pid)!));
  let largest = 0;
  for (const pid of parents.keys()) {
    if (pid === browser || !below(pid)) continue;
    const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
    if (command.includes('--type=renderer')) largest = Math.max(largest, residentBytes(pid));
  }
  return largest;
}
