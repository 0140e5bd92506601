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

async function send<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, init);
  } catch {
    throw new ApiError(0, 'The application does not answer. Is bin/start still running?');
  }
  return answerOf<T>(response);
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body ?? {}),
});

export const api = {
  get: <T>(path: string, signal?: AbortSignal): Promise<T> => send<T>(path, signal && { signal }),
  post: <T>(path: string, body?: unknown): Promise<T> => send<T>(path, json('POST', body)),
  patch: <T>(path: string, body: unknown): Promise<T> => send<T>(path, json('PATCH', body)),
  remove: <T>(path: string): Promise<T> => send<T>(path, { method: 'DELETE' }),
  /** Sends a file as it is, without a form around it. */
  put: <T>(path: string, body: Blob): Promise<T> => send<T>(path, { method: 'PUT', body }),
};
