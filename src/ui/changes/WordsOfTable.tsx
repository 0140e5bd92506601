'use client';
import Box from '@mui/material/Box';
import type { TableWords } from '@/server/reading/change-words';
import { nameOf, number, plural } from '../format';
import { PageLink } from '../kit/PageLink';

/** What two states of a table say differently, value by value. `href` leads to where it is read. */
export function WordsOfTable({ words, href }: { words: TableWords; href?: string }) {
  const { table, values, count, added, removed, isMoved, columnsAdded, columnsRemoved } = words;
  const listed = (title: string, names: readonly string[]) =>
    names.length > 0 && (
      <Box sx={{ fontSize: 13.5, mt: 0.5 }}>
        {title}: {names.join(', ')}
      </Box>
    );
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ fontSize: 12.5, color: 'ink2', mb: 0.25 }}>
        {plural(count, 'value')} of {nameOf(table)} changed
        {href !== undefined && (
          <>
            ,{' '}
            <PageLink style={{ color: 'inherit' }} href={href}>
              read it
            </PageLink>
          </>
        )}
      </Box>
      <Box sx={{ maxHeight: 260, overflow: 'auto' }}>
        {values.map(({ row, field, before, after, isNowhere }, i) => (
          <Box key={i} sx={{ fontSize: 13.5, py: 0.25, overflowWrap: 'anywhere' }}>
            <Box component="span" sx={{ fontWeight: 600 }}>
              {row}
            </Box>
            : {field} {before} to {after}
            {isNowhere && (
              <Box component="span" sx={{ color: 'bad' }}>
                {' '}
                (no row is called so)
              </Box>
            )}
          </Box>
        ))}
      </Box>
      {count > values.length && (
        <Box sx={{ fontSize: 12.5, color: 'ink2' }}>and {number(count - values.length)} more</Box>
      )}
      {listed('Rows added', added)}
      {listed('Rows taken out', removed)}
      {listed('Fields added', columnsAdded)}
      {listed('Fields taken out', columnsRemoved)}
      {isMoved && <Box sx={{ fontSize: 13.5, mt: 0.5 }}>Rows stand in another order.</Box>}
    </Box>
  );
}
