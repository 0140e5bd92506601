'use client';
import Box from '@mui/material/Box';
import { useCallback, useState } from 'react';
import type { ModView } from '@/server/mods/mods';
import type { ReadingOverview } from '@/server/reading/reading-view';
import { Failed, Loading } from '../kit/Blank';
import { SidePanels } from '../kit/SidePanels';
import { ChainDialog } from './ChainDialog';
import { LevelsDialog } from './LevelsDialog';
import { LinksDialog } from './LinksDialog';
import { atRow, type ReadingView, type SetView } from './reading-state';
import { LevelDialog } from './level/LevelDialog';
import { MapDialog } from './map/MapDialog';
import { RowCard } from './RowCard';
import { RowsBar } from './RowsBar';
import { RowsGrid } from './RowsGrid';
import { TablesSide } from './TablesSide';
import { UnreadDialog } from './UnreadDialog';
import { useRow, useRows } from './use-reading';
import { ValueDialog } from './ValueDialog';
import { WordsDialog } from './WordsDialog';

interface Props {
  readonly gameId: number;
  readonly mod: ModView | undefined;
  readonly view: ReadingView;
  readonly overview: ReadingOverview;
  /** The table of the file that the address means. */
  readonly ofFile: string;
  readonly onView: SetView;
}

export function ReadTables({ gameId, mod, view, overview, ofFile, onView }: Props) {
  const known = (id: string): boolean => overview.tables.some((one) => one.id === id);
  const table = [view.table, ofFile].find(known) ?? overview.tables[0]!.id;
  const own = overview.tables.find(({ id }) => id === table)!;
  const [range, setRange] = useState<readonly [number, number]>([0, 0]);
  const rows = useRows(gameId, view, table, range[0], range[1]);
  const row = useRow(gameId, table, view.row);
  const [, besideRow = '', besideTable = ''] = /^(\d+) (.*)$/s.exec(view.beside) ?? [];
  const beside = useRow(gameId, besideTable, besideRow);
  const onRange = useCallback((first: number, last: number) => setRange([first, last]), []);
  const go = (to: string, number: number): void => onView(atRow(to, number), true);
  const close = (): void => onView({ over: '', value: '', spot: '' });
  return (
    <>
      <SidePanels
        id="reading"
        leftTitle="the tables"
        rightTitle="the row"
        left={
          <TablesSide
            {...{ overview, table }}
            onTable={(id) =>
              onView({ table: id, row: '', text: '', order: '', backwards: '', file: '' }, true)
            }
            onOver={(over) => onView({ over })}
          />
        }
        right={
          view.row === '' ? (
            <Box sx={{ p: 2, color: 'ink2' }}>
              Choose a row to read all of it, what it means, and what names it.
            </Box>
          ) : row.error && !row.data ? (
            <Failed error={row.error} />
          ) : row.data ? (
            <RowCard
              key={`${row.data.table} ${row.data.row}`}
              {...{ gameId }}
              data={row.data}
              modId={view.as === 'game' ? undefined : mod?.id}
              onGo={go}
              onChain={(over) => onView({ over, depth: '' })}
              onValue={(value) => onView({ over: 'value', value })}
              beside={view.beside === '' ? undefined : beside.data}
              onCompare={(isOn) => onView({ beside: isOn ? `${view.row} ${table}` : '' })}
              onMap={() => onView({ over: 'map', spot: '' }, true)}
              onLevel={() => onView({ over: 'parts', spot: '' }, true)}
            />
          ) : (
            <Loading what="Reading the row" />
          )
        }
      >
        <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minHeight: 0 }}>
          <RowsBar
            {...{ gameId, mod, view, table }}
            isChanged={overview.changed.length > 0}
            of={own}
            total={rows.total}
            onView={onView}
          />
          {rows.error && !rows.loaded ? (
            <Failed error={rows.error} />
          ) : (
            <RowsGrid
              key={table}
              {...{ gameId, rows, onRange }}
              of={own}
              order={Number(view.order || '-1')}
              isBackwards={view.backwards === 'yes'}
              chosen={view.row === '' ? -1 : Number(view.row)}
              links={overview.links.filter((link) => link.table === table)}
              onChoose={(number) => onView({ table, row: String(number), file: '' }, true)}
              onGo={go}
              onOrder={(order) => {
                const isSame = view.order === String(order);
                const isOff = isSame && view.backwards === 'yes';
                onView({
                  order: isOff ? '' : String(order),
                  backwards: isSame && !isOff ? 'yes' : '',
                });
              }}
            />
          )}
        </Box>
      </SidePanels>
      {(view.over === 'leads here' || view.over === 'comes of it') && view.row !== '' && (
        <ChainDialog {...{ gameId, table, view, onView }} onGo={go} onClose={close} />
      )}
      {view.over === 'levels' && <LevelsDialog {...{ gameId, table }} onClose={close} />}
      {view.over === 'links' && <LinksDialog {...{ gameId, overview }} onClose={close} />}
      {view.over === 'words' && <WordsDialog {...{ gameId }} given={view.value} onClose={close} />}
      {view.over === 'map' && view.row !== '' && (
        <MapDialog {...{ gameId, table, view, onView }} onGo={go} onClose={close} />
      )}
      {(view.over === 'whole' || (view.over === 'parts' && view.row !== '')) && (
        <LevelDialog {...{ gameId, table, view, onView }} onGo={go} onClose={close} />
      )}
      {view.over === 'unread' && <UnreadDialog {...{ gameId }} onGo={go} onClose={close} />}
      {view.over === 'value' && (
        <ValueDialog
          {...{ gameId }}
          value={view.value}
          onGo={go}
          onClose={close}
          onValue={(value) => onView({ value })}
        />
      )}
    </>
  );
}
