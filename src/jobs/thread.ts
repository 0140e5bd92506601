import { Worker, type ResourceLimits } from 'node:worker_threads';

/**
 * Starts a module of this folder in a thread: the bundle beside this one where the worker runs bundled, else the source,
 * for which the thread registers the TypeScript loader by itself, since Node 20 does not hand it on.
 */
export function startThread(name: string, workerData: unknown, resourceLimits: ResourceLimits = {}): Worker {
  // As this thread sees it now, which is not what the process began with.
  const options = { workerData, resourceLimits, env: process.env };
  if (import.meta.url.endsWith('.mjs')) return new Worker(new URL(`./${name}.mjs`, import.meta.url), options);
  const source = new URL(`./${name}.ts`, import.meta.url).href;
  return new Worker(
    `import('tsx/esm/api').then(({ register }) => {
      register();
      return import(${JSON.stringify(source)});
    });`,
    { eval: true, ...options },
  );
}
