'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useSearchParams } from 'next/navigation';
import { useMemo, useState } from 'react';
import type { ArchiveView } from '@/server/games/archives';
import { api } from '../api';
import { bytes, number, plural } from '../format';
import { JobLine } from '../frame/JobLine';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Screen, sheet } from '../kit/Screen';
import { StateMark } from '../kit/StateMark';
import { useRestLater } from '../kit/use-rest-later';
import { useAction, useArchives, useGameJobs, useRunning } from '../queries';
import { ArchiveRow } from './ArchiveRow';
import { ArchiveSide } from './ArchiveSide';
import { AddKeyDialog } from './AddKeyDialog';
import { FindKeyDialog } from './FindKeyDialog';
import { GuessNamesDialog } from './GuessNamesDialog';
import { ARCHIVE_TONES } from './tones';
import { LoadNamesDialog } from './LoadNamesDialog';

const SHOWN_JOBS = ['scan', 'find-key', 'try-names', 'learn-names'];

/** Which archives are open, what opened them, and for each locked one what to do next. */
export function LocksScreen({ gameId }: { gameId: number }) {
  const { data: archives, error } = useArchives(gameId);
  const asked = Number(useSearchParams().get('archive'));
  const [chosen, setChosen] = useState<number | undefined>(asked || undefined);
  const [dialog, setDialog] = useState<'key' | 'names' | 'find' | 'guess'>();
  const running = useRunning(gameId, 'scan');
  const jobs = useGameJobs(gameId, SHOWN_JOBS);
  const move = useAction((input: { archiveId: number; towards: 'first' | 'last' }) =>
    api.post(`games/${gameId}/archives`, input),
  );
  const real = archives?.filter(({ sort, isMaskedFile }) => sort === 'file' && !isMaskedFile);
  const masked = archives?.filter(({ isMaskedFile }) => isMaskedFile) ?? [];
  const maskedOpen = masked.filter(({ state }) => state === 'open').length;
  const within = archives?.filter(({ sort }) => sort === 'nested').length ?? 0;
  const movable = archives?.filter(({ parentId }) => parentId === null);
  const open = real?.filter(({ state }) => state === 'open').length ?? 0;
  const locked =
    archives?.filter(({ state, isMaskedFile }) => state === 'locked' && !isMaskedFile).length ?? 0;
  const isUnlocked = locked === 0 && maskedOpen === masked.length;
  const [unfolded, setUnfolded] = useState(false);
  const rows = useMemo(
    () => inTreeOrder((archives ?? []).filter(({ isMaskedFile }) => unfolded || !isMaskedFile)),
    [archives, unfolded],
  );
  const shown = useRestLater(rows);
  const selected =
    archives?.find(({ id }) => id === chosen) ??
    [...(real ?? []), ...masked].find(({ state }) => state !== 'open') ??
    real?.[0] ??
    masked[0];
  return (
    <>
      <Screen
        title={real ? titleOf(open, real.length, maskedOpen, masked.length) : 'Locks'}
        fact={
          locked > 0
            ? `${plural(locked, 'archive needs', 'archives need')} a key`
            : maskedOpen < masked.length
              ? `${plural(masked.length - maskedOpen, 'file is', 'files are')} under a mask that needs a key`
              : open > 0
                ? `in load order; the last one answers first${within > 0 ? `; ${within} more within them` : ''}`
                : ''
        }
        actions={
          <>
            <Button variant="outlined" onClick={() => setDialog('names')}>
              Add a name list
            </Button>
            <Button variant="outlined" onClick={() => setDialog('guess')}>
              Work out names
            </Button>
            <Button variant={isUnlocked ? 'outlined' : 'contained'} onClick={() => setDialog('key')}>
              Add key
            </Button>
          </>
        }
        side={
          <ArchiveSide
            gameId={gameId}
            archive={selected}
            onAddKey={() => setDialog('key')}
            onFindKey={() => setDialog('find')}
          />
        }
      >
        {error && !archives && <Failed error={error} />}
        {!archives && !error && <Loading what="Looking at the locks" />}
        {jobs.map((job) => (
          <JobLine key={job.id} job={job} />
        ))}
        {real?.length === 0 && masked.length === 0 && !running && (
          <Blank title="No archives were found">
            Scan the folder on the Folder screen, and check that it is the folder of the game itself.
          </Blank>
        )}
        {real && real.length + masked.length > 0 && (
          <Box sx={{ ...sheet, mt: jobs.length > 0 ? 2 : 0 }}>
            <Table size="small" aria-label="Archives in load order">
              <TableHead>
                <TableRow>
                  <TableCell>Archive</TableCell>
                  <TableCell align="right">Size</TableCell>
                  <TableCell>Format script</TableCell>
                  <TableCell>State</TableCell>
                  <TableCell>Why</TableCell>
                  <TableCell align="right">Entries</TableCell>
                  <TableCell align="right">Named</TableCell>
                  <TableCell />
                </TableRow>
              </TableHead>
              <TableBody>
                {masked.length > 0 && (
                  <MaskedRow
                    masked={masked}
                    isUnfolded={unfolded}
                    isChosen={selected?.isMaskedFile === true}
                    onChoose={() =>
                      setChosen((masked.find(({ state }) => state !== 'open') ?? masked[0])!.id)
                    }
                    onUnfold={() => setUnfolded(!unfolded)}
                  />
                )}
                {shown.map(({ archive, depth }) => (
                  <ArchiveRow
                    key={archive.id}
                    archive={archive}
                    depth={depth}
                    isChosen={archive.id === selected?.id}
                    isFirst={archive.id === movable?.[0]?.id}
                    isLast={archive.id === movable?.at(-1)?.id}
                    onChoose={setChosen}
                    onMove={move.mutate}
                  />
                ))}
              </TableBody>
            </Table>
          </Box>
        )}
      </Screen>
      <AddKeyDialog gameId={gameId} open={dialog === 'key'} onClose={() => setDialog(undefined)} />
      <FindKeyDialog
        gameId={gameId}
        archive={selected}
        open={dialog === 'find'}
        onClose={() => setDialog(undefined)}
      />
      <GuessNamesDialog gameId={gameId} open={dialog === 'guess'} onClose={() => setDialog(undefined)} />
      <LoadNamesDialog gameId={gameId} open={dialog === 'names'} onClose={() => setDialog(undefined)} />
    </>
  );
}

function titleOf(open: number, all: number, maskedOpen: number, masked: number): string {
  const files = `${maskedOpen} of ${masked} masked files`;
  if (all === 0 && masked > 0) return `${files} are open`;
  return `${open} of ${all} archives${masked > 0 ? ` and ${files}` : ''} are open`;
}

/** All files under a mask as one row, since there may be thousands of them. */
function MaskedRow({
  masked,
  isUnfolded,
  isChosen,
  onChoose,
  onUnfold,
}: {
  masked: readonly ArchiveView[];
  isUnfolded: boolean;
  isChosen: boolean;
  onChoose: () => void;
  onUnfold: () => void;
}) {
  const open = masked.filter(({ state }) => state === 'open').length;
  const worst = masked.find(({ state }) => state !== 'open') ?? masked[0]!;
  return (
    <TableRow
      hover
      tabIndex={0}
      selected={isChosen}
      onClick={onChoose}
      onKeyDown={(event) => event.key === 'Enter' && onChoose()}
      sx={{ cursor: 'pointer' }}
    >
      <TableCell sx={{ fontWeight: 600 }}>{plural(masked.length, 'masked file')}</TableCell>
      <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
        {bytes(masked.reduce((sum, { size }) => sum + size, 0))}
      </TableCell>
      <TableCell>{worst.scriptTitle}</TableCell>
      <TableCell>
        <StateMark tone={ARCHIVE_TONES[worst.state]}>{worst.state}</StateMark>
      </TableCell>
      <TableCell sx={{ color: 'ink2', maxWidth: 260 }}>{worst.reason}</TableCell>
      <TableCell align="right">{open > 0 ? number(open) : '-'}</TableCell>
      <TableCell align="right">-</TableCell>
      <TableCell sx={{ px: 0.5 }}>
        <Button size="small" onClick={(event) => (event.stopPropagation(), onUnfold())}>
          {isUnfolded ? 'Fold' : 'Unfold'}
        </Button>
      </TableCell>
    </TableRow>
  );
}

/** Archives with those that lie in them right behind. */
function inTreeOrder(archives: readonly ArchiveView[]): { archive: ArchiveView; depth: number }[] {
  const inner = new Map<number | null, ArchiveView[]>();
  for (const archive of archives) {
    const list = inner.get(archive.parentId);
    if (list) list.push(archive);
    else inner.set(archive.parentId, [archive]);
  }
  const below = (id: number | null, depth: number): { archive: ArchiveView; depth: number }[] =>
    (inner.get(id) ?? []).flatMap((archive) => [{ archive, depth }, ...below(archive.id, depth + 1)]);
  return below(null, 0);
}
