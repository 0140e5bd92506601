/** What the server answered when it could not do what was asked; the message helps. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

async function answerOf<T>(response: Response): Promise<T> {
  if (response.ok) return (await response.json()) as T;
  let message = `The application answered with ${response.status}.`;
  try {
    message = ((await response.json()) as { error?: string }).error ?? message;
  } catch {
    // No JSON; the number has to do.
  }
  throw new ApiError(response.status, message);
}

async function ask(path: string, init?: RequestInit): Promise<Response> {
  try {
    return await fetch(`/api/${path}`, init);
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error;
    throw new ApiError(0, 'The application does not answer. Is bin/start still running?');
  }
}

const send = async <T>(path: string, init?: RequestInit): Promise<T> => answerOf<T>(await ask(path, init));

type ChangeListener = (path: string) => void;
const changeListeners = new Set<ChangeListener>();

/** Tells the path of each change that was made through the interface. Gives a function that ends it. */
export function onChange(listener: ChangeListener): () => void {
  changeListeners.add(listener);
  return () => void changeListeners.delete(listener);
}

/** A request that changes something. */
async function change<T>(path: string, init: RequestInit): Promise<T> {
  const answer = await send<T>(path, init);
  for (const listener of changeListeners) listener(path);
  return answer;
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body ?? {}),
});

export const api = {
  get: <T>(path: string, signal?: AbortSignal): Promise<T> => send<T>(path, signal && { signal }),
  /** The bytes of an answer. */
  async buffer(path: string, signal?: AbortSignal): Promise<ArrayBuffer> {
    const response = await ask(path, signal && { signal });
    return response.ok ? response.arrayBuffer() : answerOf<never>(response);
  },
  post: <T>(path: string, body?: unknown): Promise<T> => change<T>(path, json('POST', body)),
  patch: <T>(path: string, body: unknown): Promise<T> => change<T>(path, json('PATCH', body)),
  putJson: <T>(path: string, body: unknown): Promise<T> => change<T>(path, json('PUT', body)),
  remove: <T>(path: string): Promise<T> => change<T>(path, { method: 'DELETE' }),
  /** Bytes that come of a request, such as a picture; `body` is JSON already. */
  blob: async (path: string, body: string, signal?: AbortSignal): Promise<Blob> => {
    const headers = { 'content-type': 'application/json' };
    const response = await ask(path, { method: 'POST', headers, body, ...(signal && { signal }) });
    return response.ok ? response.blob() : answerOf<Blob>(response);
  },
  /** Sends a file as it is, without a form around it. */
  put: <T>(path: string, body: Blob): Promise<T> => change<T>(path, { method: 'PUT', body }),
};
