// One database server for all unit tests of a run that want one: begun before the first, thrown away after the last.
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { startCluster } from './cluster.mjs';

/** Tests that are asked for by a path outside these folders need no database. */
const NEEDS = /server|jobs|db|^$/;

/**
 * Waits until this run is over, however it ends, and stops the server then: a run that is killed tears nothing down. The server ends
 * its sessions on SIGINT and leaves no file of its number.
 */
function watchOver(data) {
  const pidFile = path.join(data, 'postgres', 'postmaster.pid');
  const wait = `while kill -0 ${process.pid} 2>/dev/null; do sleep 1; done`;
  const stop = `if [ -f '${pidFile}' ]; then kill -INT "$(head -n 1 '${pidFile}')"; sleep 3; fi; rm -rf '${data}'`;
  spawn('sh', ['-c', `${wait}; ${stop}`], { detached: true, stdio: 'ignore', cwd: '/' }).unref();
}

export default async function setup(globalConfig) {
  const asked = [globalConfig.testPathPatterns?.patterns ?? [], globalConfig.nonFlagArgs ?? []].flat();
  if (asked.length > 0 && !asked.some((one) => NEEDS.test(String(one)))) return undefined;
  const data = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-cluster-'));
  // The user that the server runs as has to reach it.
  fs.chmodSync(data, 0o755);
  const cluster = await startCluster(data, { isThrowaway: true });
  watchOver(data);
  process.env.ZERO_LATCH_TEST_CLUSTER = cluster.url;
  globalThis.zeroLatchTestCluster = { cluster, data };
  return undefined;
}

export function teardown() {
  const held = globalThis.zeroLatchTestCluster;
  if (!held) return;
  held.cluster.stop();
  fs.rmSync(held.data, { recursive: true, force: true });
}
