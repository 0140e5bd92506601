import { hasLookThread, lookBeside } from '../looking/look-threads';
import { checkScriptText, type ScriptCheck } from './own-scripts';
import { keepScript } from './scripts';
import { UserError } from '@/platform/user-error';

/** Reads a text as a script beside the server, which is given some time for it and no more. */
export async function checkBeside(text: string): Promise<ScriptCheck> {
  return hasLookThread() ? lookBeside('script', text) : checkScriptText(text);
}

/** Keeps a script once it was read in time, so that none comes among those that every process reads which would keep them all busy. */
export async function keepChecked(text: string, id?: string): Promise<{ id: string; version: number }> {
  const { problem } = await checkBeside(text);
  if (problem) throw new UserError(422, problem.message);
  return keepScript(text, id);
}
