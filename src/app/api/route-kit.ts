import { create } from 'content-disposition';
import { z } from 'zod';
import { FormatError } from '@/core/bytes';
import { isDatabaseAway } from '@/db/away';
import { log } from '@/server/log';
import { withOpened } from '@/server/opening/held';
import { originalEntry } from '@/server/mods/original-entry';
import { openedEntry, type OpenedEntry } from '@/server/opening/opened';
import { UserError } from '@/platform/user-error';
import { readText, wholeTexts } from './body';
import { refusedCall } from './guard';
import { DATA_POLICY } from './headers';

export const Id = z.coerce.number().int().positive().max(2_147_483_647);
export const Index = z.coerce.number().int().nonnegative().max(2_147_483_647);
export const GameParams = z.object({ game: Id });
/** An entry as it lies in the folder now. */
export const FolderEntryParams = GameParams.extend({ archive: Id, index: Index });
const ENTRY = /^(\d{1,10})(-before)?$/;
/** An entry as it lies in the folder now; `17-before` is number 17 as it was before any installation. */
export const EntryParams = GameParams.extend({ archive: Id, index: z.string().regex(ENTRY) }).transform(
  ({ index, ...others }) => {
    const [, number, before] = ENTRY.exec(index)!;
    return { ...others, index: Index.parse(number), isBefore: before !== undefined };
  },
);
export const ModParams = GameParams.extend({ mod: Id });
export const BoardParams = z.object({ board: Id });
export const ChangeParams = ModParams.extend({ change: Id });

interface Context<P> {
  readonly params: P;
  readonly request: Request;
  /** The query checked by a schema. */
  query<Q extends z.ZodType>(schema: Q): z.infer<Q>;
  /** The JSON body checked by a schema; its texts hold no NUL unless that is said. */
  body<B extends z.ZodType>(schema: B, options?: { readonly mayHoldNul?: boolean }): Promise<z.infer<B>>;
}

type Handler = (request: Request, context: { params: Promise<unknown> }) => Promise<Response>;

/** Browsers keep some answers for ever when nothing is said, a 410 among them. */
const NO_STORE = { 'cache-control': 'no-store' };

/** A route handler: checks the parameters, runs the work, and turns errors into answers that help. */
export function route<P extends z.ZodType>(
  schema: P,
  work: (context: Context<z.infer<P>>) => Promise<unknown>,
): Handler {
  return async (request, context) => {
    const refused = refusedCall(request);
    if (refused !== undefined)
      return Response.json({ error: refused.message }, { status: refused.status, headers: NO_STORE });
    try {
      const params = schema.parse(wholeTexts((await context.params) ?? {}));
      const result = await withOpened(() =>
        work({
          params,
          request,
          query: (query) => query.parse(wholeTexts(Object.fromEntries(new URL(request.url).searchParams))),
          body: async (body, { mayHoldNul = false } = {}) => body.parse(await readJson(request, mayHoldNul)),
        }),
      );
      return result instanceof Response
        ? guarded(result)
        : Response.json(result ?? { done: true }, { headers: NO_STORE });
    } catch (error) {
      return answerFor(error, request);
    }
  };
}

/** What is no JSON may be a file of a game, which a browser must not take for a page. */
function guarded(response: Response): Response {
  if (!response.headers.has('content-security-policy'))
    response.headers.set('content-security-policy', DATA_POLICY);
  return response;
}

const MOST_JSON_BYTES = 32 * 1024 * 1024;

async function readJson(request: Request, mayHoldNul: boolean): Promise<unknown> {
  const text = await readText(request, MOST_JSON_BYTES);
  try {
    return wholeTexts(JSON.parse(text), mayHoldNul);
  } catch (error) {
    if (error instanceof UserError) throw error;
    throw new UserError(400, 'The request is not JSON.');
  }
}

function answerFor(error: unknown, request: Request): Response {
  const answer = (status: number, message: string, more: object = {}): Response =>
    Response.json({ error: message, ...more }, { status, headers: NO_STORE });
  if (error instanceof UserError) return answer(error.status, error.message);
  if (error instanceof FormatError) return answer(422, error.message, { code: error.code, ...error.facts });
  if (error instanceof z.ZodError)
    return answer(
      400,
      error.issues
        .map(deepest)
        .map(({ path, message }) => `${path.join('.') || 'request'}: ${message}`)
        .join('; '),
    );
  if (isDatabaseAway(error))
    return answer(
      503,
      'The database does not answer. Nothing was lost; this page goes on by itself once it is back. If it stays away, look at the window in which bin/start runs.',
    );
  log.error({ error, url: new URL(request.url).pathname }, 'request');
  return answer(
    500,
    'Something went wrong in the application itself. The window in which bin/start runs says more.',
  );
}

interface Said {
  readonly path: readonly PropertyKey[];
  readonly message: string;
}

/** Of something that may be one of several things, what is wrong with the one that it comes nearest to. */
function deepest(issue: z.core.$ZodIssue): Said {
  if (issue.code !== 'invalid_union') return issue;
  const inner = issue.errors
    .flatMap((branch) => branch.slice(0, 1).map(deepest))
    .sort((a, b) => b.path.length - a.path.length)[0];
  return inner ? { path: [...issue.path, ...inner.path], message: inner.message } : issue;
}

/** The entry that a request is about. */
export async function openedBy({
  game,
  archive,
  index,
  isBefore,
}: z.infer<typeof EntryParams>): Promise<OpenedEntry> {
  const opened = await openedEntry(game, archive, index);
  return isBefore ? originalEntry(opened) : opened;
}

/** A text as a file to keep. */
export const textFile = (name: string, text: string): Response =>
  new Response(text, {
    headers: {
      ...NO_STORE,
      'content-type': 'text/plain; charset=utf-8',
      'content-disposition': create(name),
    },
  });
