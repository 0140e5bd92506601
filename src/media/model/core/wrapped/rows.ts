import { FormatError } from '@/core/bytes';
import type { ModelType, RecordNode } from '@/core/script';
import { PICTURE_ROLES, type Bone, type Material, type PictureRole } from '../form/form';
import { IDENTITY, inverseOf, matrixOf, takenApart, times } from '../form/turns';
import type { Asking } from './asking';

const NO_BONE = [-1, 0xff, 0xffff, 0xffff_ffff];

/** The bones that a script's rows are, in the file's own space. Throws FormatError for parents that there are not. */
export function bonesOf({ bones }: ModelType, asking: Asking): Bone[] {
  if (!bones) return [];
  const rows = asking.rows('bones.each', bones.each);
  const parents = rows.map((row) => {
    const parent = asking.number('bones.parent', bones.parent, row);
    // What stands for none is out of the way of any number.
    return NO_BONE.includes(parent) && !(parent < rows.length && parent >= 0) ? -1 : parent;
  });
  const own = rows.map((row, i) => bonesRow(bones, row, i, asking));
  return own.map(({ stands, ...bone }, i): Bone => {
    const parent = parents[i]!;
    const above = bones.relative === 'model' ? own[parent] : undefined;
    // What is said in terms of the parent is taken as it is.
    if (!above) return { ...bone, parent, ...stands };
    const back = inverseOf(matrixOf(above.stands)) ?? IDENTITY;
    return { ...bone, parent, ...takenApart(times(back, matrixOf(stands))) };
  });
}

type Stands = Pick<Bone, 'place' | 'turn' | 'size'>;

function bonesRow(
  bones: NonNullable<ModelType['bones']>,
  row: RecordNode,
  number: number,
  asking: Asking,
): Pick<Bone, 'name' | 'inverse'> & { stands: Stands } {
  const matrix = wholeMatrix(asking.numbers('bones.matrix', bones.matrix, row, 16, 12));
  const inverse = wholeMatrix(asking.numbers('bones.inverse', bones.inverse, row, 16, 12));
  const [x = 0, y = 0, z = 0] = asking.numbers('bones.place', bones.place, row, 3);
  const [i = 0, j = 0, k = 0, w = 1] = asking.numbers('bones.turn', bones.turn, row, 4);
  const [across = 1, high = across, deep = across] = asking.numbers('bones.size', bones.size, row, 3, 1);
  const name = asking.text('bones.name', bones.name, row, `bone ${number}`);
  if (matrix) return { name, inverse, stands: takenApart(matrix) };
  return { name, inverse, stands: { place: [x, y, z], turn: [i, j, k, w], size: [across, high, deep] } };
}

/** Twelve numbers are the columns without their last row. */
function wholeMatrix(numbers: readonly number[]): number[] | undefined {
  if (numbers.length === 0) return undefined;
  if (numbers.length === 16) return [...numbers];
  if (numbers.length !== 12)
    throw new FormatError('script-wrong', {
      ...{ fieldPath: 'model.bones', expected: '12 or 16 numbers', actual: `${numbers.length}` },
    });
  return [0, 3, 6, 9].flatMap((from, column) => [...numbers.slice(from, from + 3), column === 3 ? 1 : 0]);
}

/** The materials that a script's rows are. */
export function materialsOf({ materials }: ModelType, asking: Asking): Material[] {
  if (!materials) return [];
  return asking.rows('materials.each', materials.each).map((row, i) => {
    const [red = 1, green = 1, blue = 1, alpha = 1] = asking.numbers(
      'materials.colour',
      materials.colour,
      row,
      4,
      3,
    );
    const pictures: Partial<Record<PictureRole, string>> = {};
    for (const { role, path } of materials.pictures) {
      const known = PICTURE_ROLES.find((one) => one === role);
      const said = asking.text(`materials.pictures.${role}`, path, row, '');
      if (known && said !== '') pictures[known] = said;
    }
    return {
      name: asking.text('materials.name', materials.name, row, `material ${i}`),
      colour: [red, green, blue, alpha],
      pictures,
      isTwoSided: asking.truth('materials.two-sided', materials.twoSided, row, false),
    };
  });
}
