import fs from 'node:fs';
import path from 'node:path';
import { applicationHome } from '@/platform/node/home';

/** A page of the documentation as Markdown; undefined where there is none of that name. */
export function docPage(name: string): string | undefined {
  if (!/^[a-z-]{1,40}$/.test(name)) return undefined;
  const file = path.join(applicationHome(), 'docs', `${name}.md`);
  return fs.existsSync(file) ? fs.readFileSync(file, 'utf8') : undefined;
}
