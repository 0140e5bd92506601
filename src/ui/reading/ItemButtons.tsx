'use client';
import AddOutlined from '@mui/icons-material/AddOutlined';
import RemoveOutlined from '@mui/icons-material/RemoveOutlined';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { enqueueSnackbar } from 'notistack';
import type { CellAnswer } from '@/server/reading/edit-cell';
import type { ValueView } from '@/server/reading/row-view';
import { api } from '../api';
import { useAction } from '../queries';
import type { CellAt } from './ValueEdit';

interface Props {
  readonly gameId: number;
  readonly modId: number;
  readonly value: ValueView;
  readonly at: CellAt;
}

/** An item of a list once more behind itself, or taken out, or the first of an empty list; each is a step of the mod. */
export function ItemButtons({ gameId, modId, value: { name, place, item, first }, at }: Props) {
  const change = useAction(
    (does: 'copy' | 'remove' | 'first') =>
      api.post<CellAnswer>(`games/${gameId}/mods/${modId}/items`, {
        ...{ ...at, does, was: item ?? '' },
        within: does === 'first' ? [...place, 0] : place,
      }),
    ({ fit }) => {
      if (fit === 'does not fit')
        enqueueSnackbar('The list is changed, but the file does not fit; Changes says why.', {
          variant: 'warning',
        });
    },
  );
  const buttons: (readonly ['copy' | 'remove' | 'first', string, typeof AddOutlined])[] = [
    ...(first
      ? [
          [
            'first',
            `A first item of ${name}, like that of ${first.of}: ${short(first.text)}`,
            AddOutlined,
          ] as const,
        ]
      : []),
    ...(item === null
      ? []
      : [
          ['copy', `Another like item ${name}`, AddOutlined] as const,
          ['remove', `Take item ${name} out`, RemoveOutlined] as const,
        ]),
  ];
  return buttons.map(([does, label, Icon]) => (
    <Tooltip key={does} title={label}>
      <span>
        <IconButton
          className="pen"
          size="small"
          aria-label={label}
          disabled={change.isPending}
          onClick={() => change.mutate(does)}
        >
          <Icon sx={{ fontSize: 16 }} />
        </IconButton>
      </span>
    </Tooltip>
  ));
}

const MOST_TOLD = 80;

const short = (text: string): string =>
  text.length > MOST_TOLD ? `${text.slice(0, MOST_TOLD)} …` : text || 'empty';
