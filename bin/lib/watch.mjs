// Starts a part of the application again when it ends or no longer answers, and says so.
import http from 'node:http';
import net from 'node:net';

const FIRST_WAIT_MS = 500;
const MOST_WAIT_MS = 30_000;
/** A part that ran for so long is well again. */
const STEADY_MS = 60_000;
const LOOK_MS = 3000;
/** The server answers a stranger at once, so that silence for so long is a thread that stands still. */
const SILENT_MS = 60_000;

/**
 * Watches a part that `launch` starts and gives as a child process. `end` is called when it is to be killed. The parts are started
 * again after a wait that doubles while they do not stay.
 */
export function watchPart(name, first, launch, { say, isStopping }) {
  let wait = FIRST_WAIT_MS;
  const watch = (child) => {
    const began = Date.now();
    child.once('exit', (code, signal) => {
      if (isStopping()) return;
      if (Date.now() - began > STEADY_MS) wait = FIRST_WAIT_MS;
      say(`The ${name} ended (${signal ?? code}). It is started again in ${wait / 1000} s; nothing is lost.`);
      setTimeout(() => {
        if (isStopping()) return;
        watch(launch());
        say(`The ${name} was started again.`);
      }, wait);
      wait = Math.min(2 * wait, MOST_WAIT_MS);
    });
  };
  watch(first);
}

/** Whether anything listens there. */
const listens = (port) =>
  new Promise((resolve) => {
    const socket = net.connect({ port, host: '127.0.0.1' });
    const end = (is) => {
      socket.destroy();
      resolve(is);
    };
    socket.setTimeout(5000, () => end(true));
    socket.once('connect', () => end(true));
    socket.once('error', () => end(false));
  });

/** Whether the server answers anything at all within `ms`. */
const answers = (address, ms) =>
  new Promise((resolve) => {
    const request = http.get(`${address}/api/health`, { timeout: ms, agent: false }, (response) => {
      response.resume();
      resolve(true);
    });
    request.once('timeout', () => {
      request.destroy();
      resolve(false);
    });
    // Not listening is for the watch over its process.
    request.once('error', (error) => resolve(error.code !== 'ECONNRESET'));
  });

/** Looks every few seconds whether the database listens and the server answers. Gives a function that ends it. */
export function watchAnswers({
  cluster,
  address,
  restartWeb,
  say,
  isStopping,
  lookMs = LOOK_MS,
  silentMs = SILENT_MS,
}) {
  let timer;
  let silentSince;
  const look = async () => {
    if (cluster && !(await listens(cluster.port)) && !isStopping()) {
      say('The database has ended. It is started again; nothing is lost.');
      try {
        await cluster.startAgain();
        say('The database was started again.');
      } catch (error) {
        say(`The database could not be started: ${error.message}`);
      }
    }
    const asked = Date.now();
    if (await answers(address, silentMs)) silentSince = undefined;
    else if ((silentSince ??= asked) && Date.now() - silentSince >= silentMs && !isStopping()) {
      say(`The server has not answered for ${silentMs / 1000} s. It is ended and started again.`);
      silentSince = undefined;
      restartWeb();
    }
  };
  const next = () => {
    timer = setTimeout(
      () =>
        void look()
          .catch((error) => say(`Looking after the parts: ${error.message}`))
          .finally(() => isStopping() || next()),
      lookMs,
    );
    timer.unref();
  };
  next();
  return () => clearTimeout(timer);
}
