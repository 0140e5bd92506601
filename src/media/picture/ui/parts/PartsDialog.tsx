'use client';
import CloseIcon from '@mui/icons-material/Close';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import IconButton from '@mui/material/IconButton';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api } from '@/ui/api';
import { nameOf, plural } from '@/ui/format';
import type { ChannelSource } from '../light-table/ChannelMap';
import { useAction } from '@/ui/queries';
import { useMod } from '@/ui/use-mod';
import { EditsPanel, editsOf, NO_EDITS, type Settings } from './EditsPanel';
import { PartsPanel } from './PartsPanel';
import { SheetView } from './SheetView';
import { StampPanel, type Stamp } from './StampPanel';
import { useParts, useSheetPicture, type PartsBy } from './use-parts';

/** The parts of a sheet, to be cut out and put back, and small edits of them or of all. */
export function PartsDialog({
  source,
  path,
  onClose,
}: {
  source: ChannelSource;
  path: string;
  onClose: () => void;
}) {
  const { gameId, archiveId, index } = source;
  const { mod } = useMod(gameId);
  const [by, setBy] = useState<PartsBy>({ list: undefined, gap: 1, threshold: 0 });
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [settings, setSettings] = useState<Settings>(NO_EDITS);
  const [stamp, setStamp] = useState<Stamp>();
  const { data: atlas, error } = useParts(source, mod?.id, by);
  const regions = atlas?.regions ?? [];
  const scope = regions.filter(({ name }) => picked.has(name));
  const edits = editsOf(settings);
  const sheet = useSheetPicture(source, mod?.id, {
    edits,
    regions: edits.length > 0 ? scope : [],
    ...(stamp && { stamp }),
  });
  const reset = (): void => {
    setSettings(NO_EDITS);
    setStamp(undefined);
  };
  const apply = useAction(
    () =>
      api.post<{ fit: string }>(`games/${gameId}/mods/${mod!.id}/retouch`, {
        ...{ archive: archiveId, index, edits, regions: scope },
        ...(stamp && { stamp }),
      }),
    reset,
  );
  const give = useAction(
    async (file: File) => ({
      file,
      blob: (
        await api.put<{ blob: string }>(
          `games/${gameId}/mods/${mod!.id}/retouch?${new URLSearchParams({ name: file.name })}`,
          file,
        )
      ).blob,
    }),
    ({ file, blob }) => {
      const [first] = scope;
      setStamp({ blob, name: file.name, x: first?.x ?? 0, y: first?.y ?? 0 });
    },
  );
  const toggle = (name: string): void => {
    const next = new Set(picked);
    if (!next.delete(name)) next.add(name);
    setPicked(next);
  };
  return (
    <Dialog
      fullScreen
      open
      onClose={onClose}
      slotProps={{ paper: { 'aria-label': `Parts and edits of ${path}` } }}
    >
      <Box sx={{ display: 'flex', height: '100%', minHeight: 0 }}>
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column', p: 2, gap: 1.5 }}>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }}>
            <Typography variant="h1" sx={{ overflow: 'hidden', textOverflow: 'ellipsis' }} title={path}>
              {nameOf(path)}
            </Typography>
            <Box sx={{ color: 'ink2', flex: 1 }}>
              {atlas && `${atlas.width} x ${atlas.height}, ${plural(regions.length, 'part')}`}
              {mod && `, as ${mod.title} has it`}
            </Box>
            <IconButton aria-label="Close" onClick={onClose}>
              <CloseIcon />
            </IconButton>
          </Box>
          <Box sx={{ height: 3 }}>{(sheet.isWorking || apply.isPending) && <LinearProgress />}</Box>
          {(sheet.error ?? error) && <Alert severity="error">{(sheet.error ?? error)!.message}</Alert>}
          <Box sx={{ flex: 1, minHeight: 0, border: 1, borderColor: 'line', borderRadius: 1, p: 1 }}>
            {atlas && (
              <SheetView
                address={sheet.address}
                label={nameOf(path)}
                width={atlas.width}
                height={atlas.height}
                regions={error ? [] : regions}
                picked={picked}
                isPlacing={stamp !== undefined}
                onPick={({ name }, alone) =>
                  alone
                    ? setPicked(picked.has(name) && picked.size === 1 ? new Set() : new Set([name]))
                    : toggle(name)
                }
                onPlace={(x, y) => stamp && setStamp({ ...stamp, x, y })}
              />
            )}
          </Box>
        </Box>
        <Box
          component="aside"
          sx={{
            width: 380,
            flexShrink: 0,
            borderLeft: 1,
            borderColor: 'line',
            bgcolor: 'panel',
            p: 2,
            display: 'flex',
            flexDirection: 'column',
            overflow: 'auto',
          }}
        >
          <PartsPanel
            source={source}
            modId={mod?.id}
            atlas={error ? undefined : atlas}
            by={by}
            onBy={setBy}
            picked={picked}
            onPicked={setPicked}
            onToggle={toggle}
          />
          <EditsPanel
            settings={settings}
            scope={scope.length === 0 ? 'of the whole sheet' : `of ${plural(scope.length, 'part')}`}
            // What is set while something is kept would go with it.
            disabled={!mod || apply.isPending}
            onChange={setSettings}
          />
          <StampPanel
            stamp={stamp}
            disabled={!mod || give.isPending || apply.isPending}
            onGive={(file) => give.mutate(file)}
            onChange={setStamp}
          />
          {!mod && (
            <Alert severity="info" sx={{ mt: 2 }}>
              Make a mod first; it gathers the changes.
            </Alert>
          )}
          <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
            <Button
              variant="contained"
              disabled={!mod || (edits.length === 0 && !stamp)}
              loading={apply.isPending}
              onClick={() => apply.mutate(undefined)}
            >
              Keep as a change
            </Button>
            <Button disabled={edits.length === 0 && !stamp} onClick={reset}>
              Reset
            </Button>
          </Box>
        </Box>
      </Box>
    </Dialog>
  );
}
