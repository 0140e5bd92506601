'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { number, plural } from '@/ui/format';
import { sheet } from '@/ui/kit/Screen';
import type { Findings, Marks, PrintReport } from '../../core/print';

export type MarkSort = keyof Marks;

/** Hues of what is marked on the model. */
export const MARK_HUES: Readonly<Record<MarkSort, string>> = {
  holes: '#d1442c',
  crowded: '#8a4fc0',
  turned: '#1f7fb8',
  crossings: '#c98a12',
  thin: '#c2417f',
};

interface Row {
  readonly name: string;
  readonly help: string;
  readonly of: (findings: Findings) => string;
  /** What else is told of it, at the number. */
  readonly more?: (findings: Findings) => string;
  readonly mark?: MarkSort;
  readonly isBad?: (findings: Findings) => boolean;
}

const cubic = (volume: number): string =>
  Math.abs(volume) >= 1000 ? `${number(Math.round(volume / 100) / 10)} cm³` : `${volume.toPrecision(3)} mm³`;
export const sides = (size: readonly number[]): string =>
  size.map((side) => number(tenths(side))).join(' x ');
const tenths = (value: number): number => Math.round(value * 10) / 10;

const MOST_TOLD = 12;

const ROWS: readonly Row[] = [
  { name: 'Size', help: 'Wide, deep, high', of: ({ size }) => `${sides(size)} mm` },
  {
    name: 'Volume',
    help: 'What is enclosed. Where shells stand in each other, that counts twice until they are joined',
    of: ({ volume, openEdges }) => (openEdges > 0 ? `${cubic(volume)}, not closed` : cubic(volume)),
  },
  { name: 'Triangles', help: 'How many there are', of: ({ triangles }) => number(triangles) },
  {
    name: 'Shells',
    help: 'Bodies that share no edge; each has a hue of its own above',
    of: ({ shellCount }) => number(shellCount),
    more: ({ shells }) =>
      shells
        .slice(0, MOST_TOLD)
        .map(
          ({ triangles, size, isClosed }) =>
            `${plural(triangles, 'triangle')}, ${sides(size)} mm${isClosed ? '' : ', not closed'}`,
        )
        .join('\n'),
  },
  {
    name: 'Holes',
    help: 'Rows of edges that have a triangle on one side only',
    of: ({ holeCount, openEdges }) =>
      openEdges === 0 ? '0' : `${number(holeCount)} of ${number(openEdges)} loose edges`,
    mark: 'holes',
    isBad: ({ openEdges }) => openEdges > 0,
  },
  {
    name: 'Crowded edges',
    help: 'Edges that more than two triangles share',
    of: ({ crowdedEdges }) => number(crowdedEdges),
    mark: 'crowded',
    isBad: ({ crowdedEdges }) => crowdedEdges > 0,
  },
  {
    name: 'Turned faces',
    help: 'Edges whose triangles look different ways',
    of: ({ turnedEdges }) => number(turnedEdges),
    mark: 'turned',
    isBad: ({ turnedEdges }) => turnedEdges > 0,
  },
  {
    name: 'Crossings',
    help: 'Triangles that go through each other',
    of: ({ crossings, hasMoreCrossings }) => `${number(crossings)}${hasMoreCrossings ? ' or more' : ''}`,
    mark: 'crossings',
    isBad: ({ crossings }) => crossings > 0,
  },
  {
    name: 'Thin walls',
    help: 'Triangles behind which the other side comes sooner than a wall should be thick',
    of: ({ thin: { thin, thinnest } }) =>
      thin === 0 ? '0' : `${number(thin)}, down to ${thinnest.toFixed(2)} mm`,
    mark: 'thin',
    isBad: ({ thin }) => thin.thin > 0,
  },
  {
    name: 'Watertight',
    help: 'Every edge has as many triangles on one side as on the other',
    of: ({ isWatertight }) => (isWatertight ? 'yes' : 'no'),
    isBad: ({ isWatertight }) => !isWatertight,
  },
];

/** What was found in the model as it is, and what is left of that once it is mended. A press on a row marks its spots alone. */
export function FindingsTable({
  report: { found, mended },
  chosen,
  onChoose,
}: {
  readonly report: PrintReport;
  readonly chosen: MarkSort | undefined;
  readonly onChoose: (mark: MarkSort | undefined) => void;
}) {
  return (
    <Box sx={sheet}>
      <Table size="small" aria-label="What was found" sx={{ '& td, & th': { py: 0.5 } }}>
        <TableHead>
          <TableRow>
            <TableCell>Found</TableCell>
            <TableCell>As it is</TableCell>
            <TableCell>Mended</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {ROWS.map(({ name, help, of, more, mark, isBad }) => (
            <TableRow key={name} selected={mark !== undefined && mark === chosen}>
              <TableCell component="th" scope="row" title={help}>
                {mark ? (
                  <ButtonBase
                    aria-pressed={mark === chosen}
                    onClick={() => onChoose(mark === chosen ? undefined : mark)}
                    sx={{ font: 'inherit', gap: 0.75, borderRadius: 0.5 }}
                  >
                    <Box sx={{ width: 14, height: 3, bgcolor: MARK_HUES[mark] }} aria-hidden />
                    {name}
                  </ButtonBase>
                ) : (
                  name
                )}
              </TableCell>
              {[found, mended].map((findings, i) => (
                <TableCell
                  key={i}
                  title={more?.(findings)}
                  sx={{ fontWeight: isBad?.(findings) ? 600 : 400 }}
                >
                  {of(findings)}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

/** What mending did, in words; empty where it did nothing. */
export function mendsSaid({ mends, joined, found, mended }: PrintReport): string[] {
  const area = (value: number): string => `${number(Math.round(value))} mm²`;
  const grown = mended.volume - found.volume;
  return [
    mends.welded > 0 && `${plural(mends.welded, 'vertex', 'vertices')} welded`,
    mends.flat > 0 && `${plural(mends.flat, 'triangle')} without a surface left out`,
    mends.twice > 0 && `${number(mends.twice)} that were there twice left out`,
    mends.turned > 0 && `${plural(mends.turned, 'triangle')} turned over`,
    mends.flaps + mends.scraps > 0 &&
      `Lost: ${plural(mends.flaps + mends.scraps, 'triangle that encloses', 'triangles that enclose')} nothing, ${area(mends.lostSurface)}`,
    mends.closedHoles > 0 &&
      `Added: lids on ${plural(mends.closedHoles, 'hole')}, ${plural(mends.lids, 'triangle')}, ${area(mends.lidSurface)}`,
    joined && joined.from !== joined.to && `${number(joined.from)} shells joined to ${number(joined.to)}`,
    found.openEdges === 0 &&
      Math.abs(grown) > 0.5 &&
      `Volume ${grown > 0 ? '+' : '−'}${cubic(Math.abs(grown))}`,
  ].filter((one): one is string => one !== false && one !== undefined);
}
