'use client';
import ContentCopyRounded from '@mui/icons-material/ContentCopyRounded';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import DownloadRounded from '@mui/icons-material/DownloadRounded';
import EditOutlined from '@mui/icons-material/EditOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import { PageLink } from '../kit/PageLink';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { ArchiveView } from '@/server/games/archives';
import type { KeyView } from '@/server/opening/keyring';
import { api } from '../api';
import { bytes, number, plural } from '../format';
import { Facts } from '../kit/Facts';
import { StateMark } from '../kit/StateMark';
import { useAction, useKeys, useNameLists, useScripts } from '../queries';
import { ChangeKeyDialog } from './ChangeKeyDialog';
import { ARCHIVE_TONES } from './tones';

/** One archive: its state, why, the next step; below it the keyring and the name lists of the game. */
export function ArchiveSide({
  gameId,
  archive,
  onAddKey,
  onFindKey,
}: {
  gameId: number;
  archive: ArchiveView | undefined;
  onAddKey: () => void;
  onFindKey: () => void;
}) {
  return (
    <>
      {archive && (
        <ArchiveFacts gameId={gameId} archive={archive} onAddKey={onAddKey} onFindKey={onFindKey} />
      )}
      <Keyring gameId={gameId} />
      <NameLists gameId={gameId} />
      <Typography sx={{ mt: 3, color: 'ink2', fontSize: 12.5 }}>
        Keys stay on this machine, masked; they are never written to logs.
      </Typography>
    </>
  );
}

function ArchiveFacts({
  gameId,
  archive,
  onAddKey,
  onFindKey,
}: {
  gameId: number;
  archive: ArchiveView;
  onAddKey: () => void;
  onFindKey: () => void;
}) {
  return (
    <Box sx={{ mb: 3 }}>
      <Typography className="mono" sx={{ fontWeight: 700, overflowWrap: 'anywhere', mb: 1, fontSize: 14 }}>
        {archive.sort === 'loose' ? 'Loose files' : archive.path}
      </Typography>
      <StateMark tone={ARCHIVE_TONES[archive.state]}>{archive.state}</StateMark>
      <Typography sx={{ my: 1, overflowWrap: 'anywhere' }}>{archive.reason}</Typography>
      {archive.nextStep && <Typography sx={{ mb: 1, fontWeight: 600 }}>{archive.nextStep}</Typography>}
      {archive.state === 'locked' && (
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button variant="contained" onClick={onAddKey} fullWidth>
            Add a key
          </Button>
          <Button variant="outlined" onClick={onFindKey} fullWidth>
            Find the key
          </Button>
        </Box>
      )}
      {archive.state === 'open' && (
        <Button
          component={PageLink}
          href={`/games/${gameId}/contents?archive=${archive.id}`}
          variant="outlined"
          fullWidth
        >
          Show its contents
        </Button>
      )}
      <Box sx={{ mt: 1.5 }}>
        <Facts
          rows={[
            ['Script', <ScriptChoice key="script" gameId={gameId} archive={archive} />],
            ['Tried on', <TriedOn key="tried" archive={archive} />],
            ['Size', bytes(archive.size)],
            archive.state === 'open'
              ? ['Entries', `${number(archive.entries)}, ${number(archive.named)} with a name`]
              : undefined,
            archive.state === 'open'
              ? ['Verified', `${plural(archive.fieldsHeld, 'derived field')} hold`]
              : undefined,
            ['Key', archive.keyed ? 'needed' : 'not needed'],
            archive.facts.unnamed
              ? ['Nameless', `${number(archive.facts.unnamed)} known by their hash only`]
              : undefined,
            ...(archive.facts.tells ?? [])
              .filter(([title]) => title !== 'entries')
              .map(([title, value]) => [title, value] as const),
            archive.facts.companions && archive.facts.companions.length > 0
              ? ['With', archive.facts.companions.map(({ path }) => path).join(', ')]
              : undefined,
          ]}
        />
      </Box>
      <Tries gameId={gameId} archive={archive} />
    </Box>
  );
}

/** The games and versions that the author of the script says it was tried on. */
function TriedOn({ archive }: { archive: ArchiveView }) {
  const { data: scripts = [] } = useScripts();
  const script = scripts.find(({ id }) => id === (archive.chosenScript ?? archive.script));
  return script && script.triedOn.length > 0 ? script.triedOn.join(', ') : 'not said';
}

/** The script that opens an archive; another one may be taken, without starting anything anew. */
function ScriptChoice({ gameId, archive }: { gameId: number; archive: ArchiveView }) {
  const { data: scripts = [] } = useScripts();
  const choose = useAction((script: string | null) =>
    api.patch(`games/${gameId}/archives/${archive.id}`, { script }),
  );
  if (archive.sort !== 'file') return archive.scriptTitle;
  return (
    <Select
      variant="standard"
      disableUnderline
      fullWidth
      value={archive.chosenScript ?? ''}
      displayEmpty
      onChange={({ target }) => choose.mutate(target.value === '' ? null : target.value)}
      inputProps={{ 'aria-label': 'Script of this archive' }}
      sx={{ fontSize: 13 }}
    >
      <MenuItem value="">
        {archive.chosenScript ? 'The one that recognises it' : archive.scriptTitle}
      </MenuItem>
      {scripts.map(({ id, title }) => (
        <MenuItem key={id} value={id}>
          {title}
        </MenuItem>
      ))}
    </Select>
  );
}

/** How far each key came that did not open the archive. */
function Tries({ gameId, archive }: { gameId: number; archive: ArchiveView }) {
  const { data: keys = [] } = useKeys(gameId);
  const tries = archive.facts.tries ?? [];
  if (tries.length === 0 || archive.state !== 'locked') return null;
  return (
    <Box component="section" aria-label="Keys tried" sx={{ mt: 1.5 }}>
      <Box sx={{ fontWeight: 700, fontSize: 13 }}>Keys tried</Box>
      {tries.map(({ keyId, field, byteOffset }) => (
        <Box key={keyId} sx={{ fontSize: 13, color: 'ink2', overflowWrap: 'anywhere' }}>
          {keys.find(({ id }) => id === keyId)?.label ?? 'a key'} does not fit: what it opens at byte{' '}
          {number(byteOffset)} does not check (<code>{field}</code> in the script)
        </Box>
      ))}
    </Box>
  );
}

function Keyring({ gameId }: { gameId: number }) {
  const { data: keys = [] } = useKeys(gameId);
  const [changed, setChanged] = useState<KeyView>();
  const remove = useAction((id: number) => api.remove(`games/${gameId}/keys/${id}`));
  const copy = useAction(
    (id: number) => api.get<{ hex: string }>(`games/${gameId}/keys/${id}`),
    ({ hex }) =>
      void navigator.clipboard.writeText(hex).then(() => enqueueSnackbar('The key is on the clipboard.')),
  );
  return (
    <Box component="section" aria-label="Keyring">
      <Typography variant="h2">Keyring</Typography>
      {keys.length === 0 && <Typography sx={{ color: 'ink2' }}>No keys yet.</Typography>}
      {keys.map((key) => (
        <Box
          key={key.id}
          sx={{ display: 'flex', alignItems: 'center', py: 0.75, borderBottom: 1, borderColor: 'line' }}
        >
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Box sx={{ fontWeight: 600 }}>{key.label}</Box>
            <Box className="mono" sx={{ color: 'ink2' }}>
              {key.masked}
            </Box>
            <Box sx={{ fontSize: 12.5, color: 'ink2', overflowWrap: 'anywhere' }}>
              {key.origin}
              {key.tiedTo && `, for ${key.tiedTo} only`}
              {key.version && `, for version ${key.version} only`}
            </Box>
            <Box sx={{ fontSize: 12.5, color: key.opens.length > 0 ? 'good' : 'ink2' }}>
              {key.opens.length > 0 ? `opens ${plural(key.opens.length, 'archive')}` : 'opens nothing here'}
            </Box>
          </Box>
          <IconButton size="small" aria-label={`Change ${key.label}`} onClick={() => setChanged(key)}>
            <EditOutlined sx={{ fontSize: 16 }} />
          </IconButton>
          <IconButton size="small" aria-label={`Copy ${key.label}`} onClick={() => copy.mutate(key.id)}>
            <ContentCopyRounded sx={{ fontSize: 16 }} />
          </IconButton>
          <IconButton size="small" aria-label={`Remove ${key.label}`} onClick={() => remove.mutate(key.id)}>
            <DeleteOutlineRounded fontSize="small" />
          </IconButton>
        </Box>
      ))}
      {changed && <ChangeKeyDialog gameId={gameId} of={changed} onClose={() => setChanged(undefined)} />}
    </Box>
  );
}

function NameLists({ gameId }: { gameId: number }) {
  const { data: lists = [] } = useNameLists(gameId);
  const remove = useAction((id: number) => api.remove(`games/${gameId}/names/${id}`));
  const share = useAction(({ id, shared }: { id: number; shared: boolean }) =>
    api.patch(`games/${gameId}/names/${id}`, { shared }),
  );
  if (lists.length === 0) return null;
  return (
    <Box component="section" aria-label="Name lists" sx={{ mt: 3 }}>
      <Typography variant="h2">Name lists</Typography>
      {lists.map(({ id, title, count, used, origin, shared, isForeign }) => (
        <Box key={id} sx={{ py: 0.75, borderBottom: 1, borderColor: 'line' }}>
          <Box sx={{ display: 'flex', alignItems: 'center' }}>
            <Box sx={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>
              {title}, {plural(count, 'path')}
            </Box>
            <IconButton
              size="small"
              aria-label={`Export ${title}`}
              component="a"
              href={`/api/games/${gameId}/names/${id}`}
            >
              <DownloadRounded fontSize="small" />
            </IconButton>
            {!isForeign && (
              <IconButton size="small" aria-label={`Remove ${title}`} onClick={() => remove.mutate(id)}>
                <DeleteOutlineRounded fontSize="small" />
              </IconButton>
            )}
          </Box>
          <Box sx={{ display: 'flex', alignItems: 'center', fontSize: 12.5, color: 'ink2' }}>
            <Box sx={{ flex: 1 }}>
              {origin}
              {used !== null && `, names ${plural(used, 'entry', 'entries')}`}
            </Box>
            {isForeign ? (
              'of another game'
            ) : (
              <FormControlLabel
                sx={{ mr: 0, '& .MuiFormControlLabel-label': { fontSize: 12.5 } }}
                label="for all games"
                control={
                  <Switch
                    size="small"
                    checked={shared}
                    onChange={(_event, on) => share.mutate({ id, shared: on })}
                  />
                }
              />
            )}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
