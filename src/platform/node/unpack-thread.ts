import fs from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Archive, OutsideWork, StoredEntry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { isFolderEntry, type ExtractHelper, type ExtractResult, type ExtractTask } from './extract-files';
import type { FileSource } from './file-source';
import { applicationHome } from './home';
import { SafeFolders } from './safe-folders';

/** Longer ones are streamed by those who have the archive open. */
const MOST_BYTES = 64 << 20;

/** What the thread is told of an entry. */
interface ToUnpack {
  readonly offset: number;
  readonly stored: number;
  readonly length: number;
  readonly isDeflated: boolean;
  readonly isHashed: boolean;
  readonly target: string;
}

type Unpacked =
  { readonly length: number; readonly crc: number } | { readonly why: string } | { readonly failure: object };

/** An entry that is handed over, with what is left to do once it comes back. */
interface Handed {
  readonly number: number;
  readonly work: OutsideWork;
  readonly temporary: string;
  readonly target: string;
}

/**
 * A thread that unpacks entries of plain bytes or of one deflate stream without having the archive open: it starts in a fraction of the
 * time, and what is stated over the bytes is held against them here, where the archive is.
 */
export class UnpackThread implements ExtractHelper {
  private readonly worker: Worker;
  private readonly folders: SafeFolders;
  private readonly waiting: {
    resolve: (results: readonly Unpacked[]) => void;
    reject: (e: Error) => void;
  }[] = [];

  /** `root` as its real path; `archive` is one that `canUnpack` says can be. */
  constructor(
    private readonly archive: Archive,
    private readonly root: string,
    private readonly how: { readonly keepStanding: boolean; readonly isFresh: boolean },
  ) {
    this.folders = new SafeFolders(root);
    const crc32 = createRequire(path.join(applicationHome(), 'package.json')).resolve('@node-rs/crc32');
    this.worker = new Worker(THREAD, {
      eval: true,
      execArgv: [],
      workerData: { fd: (archive.source as FileSource).fd, crc32, isFresh: how.isFresh },
    });
    this.worker.on('message', (results: readonly Unpacked[]) => this.waiting.shift()?.resolve(results));
    const end = (error: Error): void => {
      for (const { reject } of this.waiting.splice(0)) reject(error);
    };
    this.worker.on('error', end);
    this.worker.on('exit', () => end(new Error('A thread of the extraction ended')));
  }

  /** Whether all these entries can be unpacked without the archive. */
  static canUnpack(archive: Archive, entries: readonly StoredEntry[]): boolean {
    if ((archive.source as Partial<FileSource>).fd === undefined) return false;
    try {
      return entries.every((entry) => {
        const work = archive.outside(archive.entries[entry.index]!);
        return (
          work !== undefined &&
          work.stored.source === archive.source &&
          (work.codec === undefined || work.codec === 'deflate') &&
          work.hashes.every((name) => name === 'crc32') &&
          work.length <= MOST_BYTES
        );
      });
    } catch (error) {
      // One that is broken is told by those who open it.
      if (error instanceof FormatError) return false;
      throw error;
    }
  }

  async extract(tasks: readonly ExtractTask[]): Promise<readonly ExtractResult[]> {
    const results: ExtractResult[] = [];
    const handed: Handed[] = [];
    for (const task of tasks)
      try {
        const one = this.prepare(task);
        if (one) handed.push(one);
        else results.push({ number: task.number, bytes: 0, error: undefined });
      } catch (error) {
        if (!(error instanceof FormatError)) throw error;
        results.push({ number: task.number, bytes: 0, error: { code: error.code, facts: error.facts } });
      }
    const answers = handed.length === 0 ? [] : await this.unpack(handed);
    for (const [i, one] of handed.entries()) results.push(this.settle(one, answers[i]!));
    return results;
  }

  /** Undefined for an entry that is a folder, which is there then. */
  private prepare({ number, index, file }: ExtractTask): Handed | undefined {
    const entry = this.archive.entries[index]!;
    const target = path.join(this.root, file);
    if (isFolderEntry(entry)) {
      this.folders.make(path.join(this.root, file.replace(/(^|\/)_$/, '')));
      return undefined;
    }
    this.folders.make(path.dirname(target));
    if (this.how.keepStanding && !this.how.isFresh && fs.existsSync(target))
      throw new FormatError('taken', {
        fieldPath: entry.path,
        actual: target,
        remedy: 'It was left as it is. Choose another folder, or say that files may be overwritten',
      });
    const temporary = this.how.isFresh
      ? target
      : path.join(path.dirname(target), `.zero-latch-${process.pid}-${number}.part`);
    return { number, work: this.archive.outside(entry)!, temporary, target };
  }

  private unpack(handed: readonly Handed[]): Promise<readonly Unpacked[]> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ resolve, reject });
      this.worker.postMessage(
        handed.map(({ work, temporary }): ToUnpack => ({
          ...{ offset: work.stored.offset, stored: work.stored.length, length: work.length },
          ...{ isDeflated: work.codec !== undefined, isHashed: work.hashes.length > 0, target: temporary },
        })),
      );
    });
  }

  /** Gives a file its name once everything over its bytes holds; one that does not goes. */
  private settle({ number, work, temporary, target }: Handed, answer: Unpacked): ExtractResult {
    if ('failure' in answer) throw Object.assign(new Error(), answer.failure);
    try {
      if ('why' in answer) throw work.failed(answer.why);
      work.settle(new Map([['crc32', answer.crc]]), answer.length);
      if (temporary !== target) fs.renameSync(temporary, target);
      return { number, bytes: answer.length, error: undefined };
    } catch (error) {
      fs.rmSync(temporary, { force: true });
      if (!(error instanceof FormatError)) throw error;
      return { number, bytes: 0, error: { code: error.code, facts: error.facts } };
    }
  }

  async close(): Promise<void> {
    await this.worker.terminate();
  }
}

/** Needs nothing of ours, so that it begins at once. Each entry is read, unpacked and written in one go through reused buffers. */
const THREAD = `
const fs = require('node:fs');
const zlib = require('node:zlib');
const { parentPort, workerData } = require('node:worker_threads');
const { crc32 } = require(workerData.crc32);
let buffer = Buffer.allocUnsafeSlow(1 << 20);
function read({ offset, stored }) {
  if (buffer.length < stored) buffer = Buffer.allocUnsafeSlow(2 * stored);
  for (let got = 0; got < stored; ) {
    const count = fs.readSync(workerData.fd, buffer, got, stored - got, offset + got);
    if (count === 0) throw Object.assign(new Error('the file became shorter while it was read'), { isOfEntry: true });
    got += count;
  }
  return buffer.subarray(0, stored);
}
function plainOf(task) {
  const bytes = read(task);
  if (!task.isDeflated) return bytes;
  try {
    return zlib.inflateRawSync(bytes, {
      maxOutputLength: Math.max(1, task.length),
      chunkSize: Math.max(64, Math.min(task.length + 1, 1 << 20)),
    });
  } catch (error) {
    throw Object.assign(new Error('deflate says: ' + error.message), { isOfEntry: true });
  }
}
function write(target, bytes) {
  const fd = fs.openSync(target, workerData.isFresh ? 'wx' : 'w');
  try {
    for (let done = 0; done < bytes.length; ) done += fs.writeSync(fd, bytes, done);
  } finally {
    fs.closeSync(fd);
  }
}
function unpack(task) {
  try {
    const bytes = plainOf(task);
    write(task.target, bytes);
    return { length: bytes.length, crc: task.isHashed ? crc32(bytes) : 0 };
  } catch (error) {
    if (error.isOfEntry) return { why: error.message };
    fs.rmSync(task.target, { force: true });
    const { message, code, path } = error;
    return { failure: { message, code, path } };
  }
}
parentPort.on('message', (tasks) => parentPort.postMessage(tasks.map(unpack)));
`;
