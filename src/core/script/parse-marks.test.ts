import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { referenceScripts } from '../testing/reference-samples';
import { parseScript, recognitionIn } from './index';

/** What a script recognises is told from its text as its whole reading tells it, or not at all. */
const of = (text: string): unknown => {
  const { marks, endings, isForFiles, kind, isKindStated } = parseScript(text);
  return { marks, endings, isForFiles, kind, isKindStated };
};

const folder = 'scripts/formats';

describe('told without reading the rest', () => {
  test.each(fs.readdirSync(folder))('%s', (name) => {
    const text = fs.readFileSync(path.join(folder, name), 'utf8');
    expect(recognitionIn(text)).toEqual(of(text));
  });

  test.each([...referenceScripts.keys()])('the example %s', (name) => {
    const { text } = referenceScripts.get(name)!;
    expect(recognitionIn(text)).toEqual(of(text));
  });

  const rest = `
records: { head: { tag: text(1) } }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'a'", payload: { at: '0', size: '0' } }
`;
  test.each([
    [
      'items at the beginning of a line',
      "recognise:\n- { at: 0, text: A }\n\n# a remark\n- { at: 1, hex: '00' }\nendings: [.x]",
    ],
    ['endings before the marks', "endings:\n  - .x\nrecognise: [{ at: 0, text: 'recognise:' }]"],
    ['lines that end as on other systems', 'recognise:\r\n  - { at: 0, text: A }\r'],
    ['several that must all be there', 'recognise:\n  - - { at: 0, text: A }\n    - { at: -1, text: B }'],
  ])('%s', (_what, sections) => {
    const text = `format script: 1\ntitle: X\n${sections}\n${rest}`;
    expect(recognitionIn(text)).toEqual(of(text));
  });

  test('nothing for what is wrong, or written in another way', () => {
    expect(recognitionIn('title: X')).toBeUndefined();
    expect(recognitionIn('recognise: [')).toBeUndefined();
    expect(recognitionIn('{ recognise: [{ at: 0, text: A }] }')).toBeUndefined();
    expect(recognitionIn('recognise: [{ at: x, text: A }]')).toBeUndefined();
  });
});
