import { z } from 'zod';
import { FormatError } from '@/core/bytes';
import { namedApart, type Region } from './regions';

/** A part as lists of parts write it: its numbers beside its name, or in a frame of their own. */
const Numbers = z.object({
  x: z.number(),
  y: z.number(),
  w: z.number().optional(),
  h: z.number().optional(),
  width: z.number().optional(),
  height: z.number().optional(),
});
const Part = z.union([
  Numbers.extend({ name: z.string().optional(), filename: z.string().optional() }),
  z.object({ name: z.string().optional(), filename: z.string().optional(), frame: Numbers }),
]);
const Parts = z.union([z.array(Part), z.record(z.string(), Part)]);
const List = z.union([z.object({ frames: Parts }), z.object({ regions: Parts }), Parts]);

/**
 * Reads a list of the parts of a picture that lies beside it: JSON with an array or an object of parts, on its own or under `frames`
 * or `regions`; XML whose elements have a name, x, y, width and height; or a table with a head that has these columns, parted by
 * commas, semicolons or tabs. Throws FormatError where it is none of these.
 */
export function readRegions(text: string, file: string): Region[] {
  const plain = text.replace(/^\uFEFF/, '').trim();
  const regions = /^[[{]/.test(plain)
    ? fromJson(plain, file)
    : plain.startsWith('<')
      ? fromXml(plain)
      : fromTable(plain, file);
  if (regions.length === 0) throw notAList(file, 'it tells of no parts');
  return namedApart(regions);
}

const notAList = (file: string, why: string): FormatError =>
  new FormatError('not-recognised', {
    file,
    expected: 'a list of parts with a name, x, y, width and height each',
    why,
    remedy: 'Give JSON, XML or a table with these columns, or find the parts by the gaps',
  });

function fromJson(text: string, file: string): Region[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw notAList(file, `it is no JSON: ${(error as Error).message}`);
  }
  const read = List.safeParse(value);
  if (!read.success)
    throw notAList(file, `${read.error.issues[0]?.path.join('.')}: ${read.error.issues[0]?.message}`);
  const { data } = read;
  const parts = Array.isArray(data)
    ? data
    : 'frames' in data && isParts(data.frames)
      ? data.frames
      : 'regions' in data && isParts(data.regions)
        ? data.regions
        : data;
  const named = Array.isArray(parts)
    ? parts.map((part, i) => [`part_${i + 1}`, part] as const)
    : Object.entries(parts as Record<string, z.infer<typeof Part>>);
  return named.map(([name, part]) => {
    const numbers = 'frame' in part ? part.frame : part;
    return {
      name: plainName(part.name ?? part.filename ?? name),
      x: numbers.x,
      y: numbers.y,
      width: numbers.width ?? numbers.w ?? 0,
      height: numbers.height ?? numbers.h ?? 0,
    };
  });
}

/** `frames` may also be the name of a part in an object of parts. */
const isParts = (value: unknown): value is z.infer<typeof Parts> => !Part.safeParse(value).success;

const plainName = (name: string): string => name.replace(/\.(png|tga|jpg|webp)$/i, '');

function fromXml(text: string): Region[] {
  const regions: Region[] = [];
  for (const [element] of text.matchAll(/<[A-Za-z][^<>]{0,2000}>/g)) {
    const attributes = new Map(
      [...element.matchAll(/([A-Za-z]+)\s*=\s*"([^"]*)"/g)].map(([, key, value]) => [
        key!.toLowerCase(),
        value!,
      ]),
    );
    const [x, y] = [attributes.get('x'), attributes.get('y')];
    const width = attributes.get('width') ?? attributes.get('w');
    const height = attributes.get('height') ?? attributes.get('h');
    if (x === undefined || y === undefined || width === undefined || height === undefined) continue;
    regions.push({
      name: plainName(attributes.get('name') ?? attributes.get('n') ?? `part_${regions.length + 1}`),
      ...{ x: Number(x), y: Number(y), width: Number(width), height: Number(height) },
    });
  }
  return regions;
}

const COLUMNS: Readonly<Record<keyof Region, readonly string[]>> = {
  name: ['name', 'id', 'sprite', 'part'],
  x: ['x', 'left'],
  y: ['y', 'top'],
  width: ['width', 'w'],
  height: ['height', 'h'],
};

function fromTable(text: string, file: string): Region[] {
  const [head = '', ...lines] = text
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '' && !line.startsWith('#'));
  const between = ['\t', ';', ','].find((mark) => head.includes(mark));
  if (between === undefined) throw notAList(file, 'its first line has no columns');
  const cells = (line: string): string[] =>
    line.split(between).map((cell) => cell.trim().replace(/^"|"$/g, ''));
  const titles = cells(head).map((title) => title.toLowerCase());
  const at = (column: keyof Region): number => titles.findIndex((title) => COLUMNS[column].includes(title));
  for (const column of ['x', 'y', 'width', 'height'] as const)
    if (at(column) < 0) throw notAList(file, `its first line has no column ${column}`);
  return lines.map((line, i) => {
    const row = cells(line);
    const number = (column: keyof Region): number => Number(row[at(column)] || NaN);
    return {
      name: plainName(row[at('name')] || `part_${i + 1}`),
      ...{ x: number('x'), y: number('y'), width: number('width'), height: number('height') },
    };
  });
}
