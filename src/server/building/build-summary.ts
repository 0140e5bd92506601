import {
  createPrivateKey,
  createPublicKey,
  generateKeyPairSync,
  sign,
  verify,
  type KeyObject,
} from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import type { BuildWay } from '@/core/mod';
import type { BuildReport } from './build-files';
import { storageFolder } from '../storage/storage';
import { UserError } from '@/platform/user-error';

export const SUMMARY = 'zero-latch-summary.json';
/** Ed25519 signature of the summary's bytes (RFC 8032), in Base64. */
export const SIGNATURE = 'zero-latch-summary.json.sig';

const folderOf = (buildId: number): string => storageFolder('builds', String(buildId));

/** The key of this installation of the application; made when it is first needed. */
function signingKey(): KeyObject {
  const file = path.join(storageFolder('signing'), 'ed25519.pem');
  if (!fs.existsSync(file)) {
    const { privateKey } = generateKeyPairSync('ed25519');
    const fresh = `${file}.${process.pid}`;
    fs.writeFileSync(fresh, privateKey.export({ type: 'pkcs8', format: 'pem' }), { mode: 0o600 });
    // Of several that make one at the same time the first one stays.
    try {
      fs.linkSync(fresh, file);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    } finally {
      fs.rmSync(fresh);
    }
  }
  return createPrivateKey(fs.readFileSync(file));
}

export interface Summarised {
  readonly game: string;
  readonly mods: readonly { readonly title: string }[];
  readonly way: BuildWay;
  readonly report: BuildReport;
}

/** Keeps beside a build what it is made of and what its proof says, signed. */
export function keepSummary(buildId: number, { game, mods, way, report }: Summarised): void {
  const key = signingKey();
  const summary = {
    game,
    mods: mods.map(({ title }) => title),
    way,
    made: new Date().toISOString(),
    signedWith: createPublicKey(key).export({ type: 'spki', format: 'pem' }),
    files: report.archives.map(
      ({ archive, sourceSha256, sha256, sizeBefore, sizeAfter, changes, proof }) => ({
        ...{ path: archive, sourceSha256, sha256, sizeBefore, sizeAfter, changes },
        proof: proof.claims,
      }),
    ),
  };
  const bytes = Buffer.from(`${JSON.stringify(summary, undefined, 2)}\n`);
  const folder = folderOf(buildId);
  fs.writeFileSync(path.join(folder, SUMMARY), bytes);
  fs.writeFileSync(path.join(folder, SIGNATURE), `${sign(null, bytes, key).toString('base64')}\n`);
}

/** The summary of a build and its signature, as they lie beside it. */
export const summaryFiles = (buildId: number): readonly { name: string; file: string }[] =>
  [SUMMARY, SIGNATURE]
    .map((name) => ({ name, file: path.join(folderOf(buildId), name) }))
    .filter(({ file }) => fs.existsSync(file));

/** Refuses a build whose summary is no longer what was signed, or says other files than are to be installed. */
export function checkSummary(buildId: number, report: BuildReport): void {
  const [summary, signature] = summaryFiles(buildId);
  // Builds of earlier versions have none; their files are checked by their hashes all the same.
  if (!summary || !signature) return;
  const bytes = fs.readFileSync(summary.file);
  const mark = Buffer.from(fs.readFileSync(signature.file, 'utf8').trim(), 'base64');
  const wrong = (why: string): UserError =>
    new UserError(409, `${why} Nothing was overwritten. Build again, and install that.`);
  if (!verify(null, bytes, createPublicKey(signingKey()), mark))
    throw wrong('The summary of this build is not what was signed when it was made.');
  const { files } = JSON.parse(bytes.toString()) as { files: { path: string; sha256: string }[] };
  const told = new Map(files.map(({ path: name, sha256 }) => [name, sha256]));
  const other = report.archives.find(({ archive, sha256 }) => told.get(archive) !== sha256);
  if (other) throw wrong(`The summary of this build does not tell of ${other.archive} as it is.`);
}
