'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useNaming } from '../reading/use-reading';
import { nameOf, number, plural } from '../format';
import { PageLink } from '../kit/PageLink';

const SHOWN = 12;

const rowPage = (gameId: number, table: string, row: number): string =>
  `/games/${gameId}/read?${new URLSearchParams({ table, row: String(row) })}`;

/** Rows of tables that name an entry, once somebody asks: all tables are read for it. */
export function NamedByTables({
  gameId,
  archiveId,
  index,
}: {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
}) {
  const [isAsked, setAsked] = useState(false);
  const { data, error, isFetching } = useNaming(gameId, archiveId, index, isAsked);
  if (!data)
    return (
      <>
        <Button
          size="small"
          sx={{ mt: 1.5, mr: 1 }}
          loading={isFetching}
          onClick={() => setAsked(true)}
          title="In tables, programs and scripts of the game"
        >
          Which rows name it?
        </Button>
        {error && <Box sx={{ color: 'error.main', fontSize: 13 }}>{error.message}</Box>}
      </>
    );
  return (
    <Box component="section" aria-label="Named in tables" sx={{ mt: 2 }}>
      <Box sx={{ fontSize: 12.5, fontWeight: 700, color: 'ink2', mb: 0.5 }}>
        {data.usedBy.length === 0 ? 'No row of a table names it' : 'Named in tables'}
      </Box>
      {data.usedBy.map(({ table, field, count, rows }) => (
        <Box key={`${table} ${field}`} sx={{ mb: 0.75 }}>
          <Box sx={{ fontSize: 12.5, color: 'ink2' }}>
            {field} of {nameOf(table)}, {plural(count, 'time')}
          </Box>
          {rows.slice(0, SHOWN).map((one) => (
            <Box key={one.row} sx={{ overflowWrap: 'anywhere' }}>
              <PageLink style={{ color: 'inherit' }} href={rowPage(gameId, one.table, one.row)}>
                {one.title}
              </PageLink>
            </Box>
          ))}
          {count > SHOWN && (
            <Box sx={{ fontSize: 12.5, color: 'ink2' }}>and {number(count - SHOWN)} more</Box>
          )}
        </Box>
      ))}
    </Box>
  );
}
