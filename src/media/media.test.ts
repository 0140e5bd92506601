import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import { collect, FormatError, memorySource, refOfBytes } from '@/core/bytes';
import { KINDS, type Kind } from '@/core/kinds';
import { TypeTeller } from '@/core/kinds/signs';
import { conversionsOf } from '@/core/recipe';
import { worded } from '@/core/fit';
import { fitBy, headBy } from './asking';
import { FORMATS } from './formats';
import { spelledBy } from './lenses';
import type { MediaTools } from './medium';
import { MEDIA_NODE } from './node';
import { beaconFormats } from './testing/beacon/formats';
import { beaconLens } from './testing/beacon/lens';
import { beaconNode } from './testing/beacon/node';
import { beaconWays } from './testing/beacon/ways';
import { beaconWording } from './testing/beacon/wording';
import { MEDIA_WAYS, WAYS } from './ways';
import { WORDINGS } from './wording';

/** A small medium as docs/adding-a-medium.md has it, in the registries beside the others. */
describe('a medium that is added', () => {
  const media = [beaconNode, ...MEDIA_NODE];
  const bytes = Uint8Array.from([...Buffer.from('BEAC'), 3, 10, 5, 10]);
  const none = (): undefined => undefined;
  const fileOf = (of: Uint8Array, name: string) => ({
    ...{ name, first: of, source: memorySource(of, name), describedKind: undefined },
    held: () => of,
  });

  test('is told by its bytes, and the others still are', () => {
    const teller = new TypeTeller([
      ['beacon' as Kind, beaconFormats],
      ...KINDS.map((kind) => [kind, FORMATS[kind]] as const),
    ]);
    expect(teller.ofHead(bytes)).toEqual({ kind: 'beacon', ending: 'beacon' });
    expect(teller.ofHead(new Uint8Array(Buffer.from('fLaC and more')))?.kind).toBe('sound');
  });

  test('stands in lists and the inspector with what its head tells', async () => {
    const head = await headBy(media, fileOf(bytes, 'east.beacon'), none);
    expect(beaconLens.columns.map(({ title, value }) => [title, value(head)])).toEqual([['Flashes', '3']]);
    expect(spelledBy([beaconLens], head)).toBe('flashes 3');
    const text = await headBy(media, fileOf(new Uint8Array(Buffer.from('a\nb\n')), 'x'), none);
    expect(text).toMatchObject({ sort: 'text', lines: 2 });
  });

  test('is a choice of recipes, and taken out as they say', async () => {
    const shape = conversionsOf([...MEDIA_WAYS, ['beacon', beaconWays]]);
    expect(shape.parse({ beacon: 'csv' })).toMatchObject({ beacon: 'csv', picture: 'stored' });
    expect(shape.safeParse({ beacon: 'png' }).success).toBe(false);
    const made: (string | undefined)[] = [];
    const items = [bytes, bytes.slice(0, 6)].map((of, i) => ({ plain: refOfBytes(of), path: `${i}.beacon` }));
    await beaconNode.converters!.csv!.convert(items, { mediaScripts: none, check: none }, (_i, result) =>
      made.push(
        result instanceof FormatError ? result.facts.fieldPath : Buffer.from(collect(result)).toString(),
      ),
    );
    expect(made).toEqual(['tenths\n10\n5\n10\n', 'flashes']);
  });

  test('is checked when it is brought back', async () => {
    const fit = async (given: Uint8Array): Promise<string> => {
      const slot = { bytes, name: 'east.beacon', kind: 'beacon' };
      const ready = await fitBy(media, slot, { bytes: given, name: 'new' }, new Set(), {} as MediaTools);
      const { state, what } = worded(ready.findings[0]!, { ...WORDINGS, beacon: beaconWording });
      return `${state}: ${what}`;
    };
    expect(await fit(bytes)).toBe('fits: 3 flashes instead of 3');
    expect(await fit(Uint8Array.from([...Buffer.from('BEAC'), 1, 9]))).toBe('look: 1 flash instead of 3');
    expect(await fit(Uint8Array.of(1, 2))).toBe('does not fit: new is no beacon');
  });
});

test('every way to take entries out has its converter, and none has one without a name', () => {
  for (const { kind, converters = {} } of MEDIA_NODE)
    expect(Object.keys(converters)).toEqual((WAYS[kind]?.ways ?? []).map(({ name }) => name));
});

/** Where the name of a medium stands outside its folder, and why it may. */
const MAY_NAME: Readonly<Record<string, string>> = {
  'src/core/kinds/kinds.ts': 'the list of kinds',
  'src/core/script/parse-entries.ts': 'sections are called as their kinds',
  'src/core/script/parse-marks.ts': 'sections are called as their kinds',
  'src/core/script/parse-media.ts': 'sections are called as their kinds',
  'src/core/script/parse-script.ts': 'sections are called as their kinds',
  'src/core/script/model-types.ts': 'bones stand in terms of the parent or of the whole',
  'src/core/script/parse-model.ts': 'sections are called as their kinds',
  'src/platform/node/wrapped-models.ts': 'sections are called as their kinds',
  'src/core/script/types.ts': 'planes lie by row or by picture',
  'src/platform/node/media-scripts.ts': 'sections are called as their kinds',
  'src/server/mods/mods.ts': 'sheets that belong together are pictures',
  'src/server/looking/looks.ts': 'pictures that look alike',
  'src/server/looking/texels.ts': 'the light table',
  'src/server/looking/carve.ts': 'pictures that are buried in others',
  'src/server/scan/look-into.ts': 'films may be archives',
  'src/server/films/make-film.ts': 'streams of a film',
  'src/server/mods/incoming.ts': 'pictures are matched by their look',
};

test('nobody else asks whether something is a picture, a sound, a film or a model', () => {
  const files = fs
    .readdirSync('src', { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.tsx?$/.test(file) && !/\.test\.|^media\//.test(file))
    .filter((file) => /'(picture|sound|film|model)'/.test(fs.readFileSync(`src/${file}`, 'utf8')));
  expect(files.map((file) => `src/${file}`).filter((file) => !(file in MAY_NAME))).toEqual([]);
});
