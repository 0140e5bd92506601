import fs from 'node:fs';
import path from 'node:path';
import { ciphers, type Cipher } from '../src/core/ciphers';
import { codecs } from '../src/core/codecs';
import { functionGroups } from '../src/core/script';
import type { SettingTypes } from '../src/core/settings';

/** Writes docs/functions.md and docs/transforms.md from the code: npm run functions */
const cell = (text: string): string => text.replaceAll('|', '\\|');
const groups = [...functionGroups].map(
  ([group, table]) =>
    `## ${group}\n\n| function | what |\n| --- | --- |\n${Object.values(table)
      .map(({ form, about }) => `| \`${form}\` | ${cell(about)} |`)
      .join('\n')}\n`,
);
fs.writeFileSync(
  path.join(import.meta.dirname, 'functions.md'),
  `# Functions of format scripts\n\nWhat stands in \`[ ]\` may be left out. \`if\`, \`was\`, \`where\` and \`first\` are in [format-scripts.md](format-scripts.md).\n\n${groups.join('\n')}`,
);

function settingsOf(settings: SettingTypes | undefined): string {
  return Object.entries(settings ?? {})
    .map(([name, { about, default: otherwise, words }]) => {
      const among = words ? ` (${words.map((word) => `\`${word}\``).join(', ')})` : '';
      const rule = otherwise === undefined ? 'must be said' : `\`${otherwise}\` if nothing is said`;
      return `\`${name}\`: ${about}${among}, ${rule}`;
    })
    .join('; ');
}

function keyOf({ keyless, keyLengths }: Cipher): string {
  if (keyless) return 'none';
  if (keyLengths.length === 0) return 'any length';
  const [first, last] = [keyLengths[0]!, keyLengths.at(-1)!];
  const isRange = keyLengths.length > 3 && keyLengths.length === last - first + 1;
  return isRange ? `${first} to ${last} bytes` : `${keyLengths.join(', ')} bytes`;
}

const codecRows = codecs
  .names()
  .map((name) => codecs.get(name)!)
  .map(({ name, about, settings }) => `| \`${name}\` | ${cell(about)} | ${cell(settingsOf(settings))} |`);
const cipherRows = ciphers
  .names()
  .map((name) => ciphers.get(name)!)
  .map(
    (cipher) =>
      `| \`${cipher.name}\` | ${cell(cipher.about)} | ${keyOf(cipher)} | ${cipher.ivLength || ''} | ${cipher.blockLength > 1 ? cipher.blockLength : ''} | ${cell(settingsOf(cipher.settings))} |`,
  );
fs.writeFileSync(
  path.join(import.meta.dirname, 'transforms.md'),
  `# Codecs and ciphers of format scripts

How they stand in a script is in [format-scripts.md](format-scripts.md#seals).

## Codecs

| codec | what | settings |
| --- | --- | --- |
${codecRows.join('\n')}

## Ciphers

The length of the initial vector and the unit that the bytes must come in, both in bytes, where there is one.

| cipher | what | key | vector | unit | settings |
| --- | --- | --- | --- | --- | --- |
${cipherRows.join('\n')}
`,
);
