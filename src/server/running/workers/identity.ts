import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';

/** A worker process as the others know it. */
export interface WorkerIdentity {
  readonly id: string;
  /** What people call the machine. */
  readonly title: string;
  /** Where its process number means something: this run of this machine, and the part of it that sees such numbers. */
  readonly place: string;
  readonly pid: number;
  /** When the process began, in the system's terms, so that another one of the same number is told apart. */
  readonly born: string;
  readonly threads: number;
}

const readOr = (read: () => string): string => {
  try {
    return read().trim();
  } catch {
    return '';
  }
};

/** When a process of this machine began; empty where there is none. */
export const bornOf = (pid: number): string =>
  readOr(() => {
    const stat = fs.readFileSync(`/proc/${pid}/stat`, 'utf8');
    // Its name may hold anything; the fields are counted behind it. The 22nd is the time of its start.
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    // One that has ended and waits to be fetched is gone for us.
    return fields[0] === 'Z' ? '' : (fields[19] ?? '');
  });

const thisPlace = (): string =>
  [
    os.hostname(),
    readOr(() => fs.readFileSync('/proc/sys/kernel/random/boot_id', 'utf8')),
    readOr(() => fs.readlinkSync('/proc/self/ns/pid')),
  ].join(' ');

export const newIdentity = (threads: number): WorkerIdentity => ({
  id: randomUUID(),
  title: `${os.hostname()}, process ${process.pid}`,
  place: thisPlace(),
  pid: process.pid,
  born: bornOf(process.pid),
  threads,
});

/** Whether a worker of the same place has ended; of other places only their silence tells. */
export const hasEnded = (
  worker: Pick<WorkerIdentity, 'place' | 'pid' | 'born'>,
  here: Pick<WorkerIdentity, 'place'>,
): boolean => worker.born !== '' && worker.place === here.place && bornOf(worker.pid) !== worker.born;
