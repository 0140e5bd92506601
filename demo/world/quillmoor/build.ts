import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { painted } from '../drawing/painted';
import { MOODS, PEOPLE, person } from '../drawing/figures';
import { GROUND_HEIGHT, GROUND_WIDTH, groundDrawing, GROUNDS } from '../drawing/grounds';
import { PLACES, placeDrawing } from '../drawing/places';
import { programFile } from '../lanternfen/program';
import { bell, tune, wash } from '../sounds';
import { opus } from '../tools';
import { selfSaid } from './cbor';
import { masked } from './mask';
import { storyTables } from './tables';

/** The seed of the project, as four bytes. */
export const PROJECT_SEED = createHash('sha256').update('Nine Herons, Quillmoor').digest().subarray(0, 4);

const draw = (body: string, width: number, height: number, box: string): Promise<Buffer> =>
  painted(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="${box}">${body}</svg>`,
    (picture) => picture.png({ compressionLevel: 9 }).toBuffer(),
  );

/** Writes the project folder of Quillmoor: pictures, sounds and tables under the mask. */
export async function buildQuillmoor(folder: string): Promise<void> {
  const write = (name: string, data: Buffer | string): void => {
    fs.mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    fs.writeFileSync(path.join(folder, name), data);
  };
  const seed = PROJECT_SEED.readUInt32LE();
  const hide = (name: string, data: Buffer): void => write(name, masked(data, path.basename(name), seed));
  write('quillmoor.bin', programFile('Quillmoor', 1 << 17, [PROJECT_SEED], 'Quillmoor 1.1 Nine Herons'));
  write(
    'project.json',
    `${JSON.stringify({ title: 'Quillmoor', engine: 'Nine Herons 1', masked: ['plates', 'notes', 'tables'], tables: 'tables' }, null, 2)}\n`,
  );
  for (const place of PLACES)
    hide(`plates/places/${place}.plate`, await draw(placeDrawing(place, 'dawn'), 320, 160, '0 0 512 256'));
  for (const who of PEOPLE)
    for (const mood of MOODS) {
      const body = `<g transform="translate(128 138) scale(.78)">${person(who, mood)}</g>`;
      hide(`plates/people/${who}_${mood}.plate`, await draw(body, 128, 128, '0 0 256 256'));
    }
  for (const ground of GROUNDS)
    hide(
      `plates/grounds/${ground}.plate`,
      await draw(groundDrawing(ground), GROUND_WIDTH, GROUND_HEIGHT, `0 0 ${GROUND_WIDTH} ${GROUND_HEIGHT}`),
    );
  hide('notes/post_bell.note', bell(262));
  hide('notes/moor_wind.note', wash('moor', 0.3, 0.7));
  hide('notes/letter_song.note', await opus(tune('letters', [262, 294, 330, 392, 330, 294, 262, 220])));
  for (const [name, rows] of Object.entries(storyTables())) hide(`tables/${name}.leaf`, selfSaid(rows));
}
