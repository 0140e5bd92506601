'use client';
import AddRounded from '@mui/icons-material/AddRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useRouter, useSearchParams } from 'next/navigation';
import { enqueueSnackbar } from 'notistack';
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { ScriptCheck } from '@/server/opening/own-scripts';
import { api } from '../api';
import { plural } from '../format';
import { TopBar } from '../frame/TopBar';
import { Blank, Failed, Loading } from '../kit/Blank';
import { StateMark } from '../kit/StateMark';
import { useAction, useScript, useScripts } from '../queries';
import { useDrafts } from './drafts';
import { ScriptEditor } from './ScriptEditor';
import { ScriptList } from './ScriptList';

/** What a new script begins with; it reads as it stands. */
const BEGINNING = `format script: 1
title: New format
author: ''
recognise:
  - { at: 0, text: MARK }
records:
  head:
    tag: { type: text(4), fixed: MARK }
    count: { type: u32, derived: count(rows) }
    rows: { type: row, count: count }
  row:
    name: text(16)
    at: { type: u32, derived: place(payload) }
    size: { type: u32, derived: size(payload) }
parts:
  head: { type: head, at: 0 }
entries:
  each: head.rows
  path: name
  size: size
  payload: { at: at, size: size }
`;
/** Stands for a script that was never saved. */
const NEW = 'new';

/** Format scripts: read those that ship, write and keep one's own. */
export function ScriptsScreen() {
  const params = useSearchParams();
  const router = useRouter();
  const { data: scripts, error } = useScripts();
  const [drafts, setDraft] = useDrafts();
  const chosen = params.get('script') ?? (NEW in drafts ? NEW : (scripts?.[0]?.id ?? ''));
  const version = Number(params.get('version')) || undefined;
  const { data: script, error: failed } = useScript(chosen === NEW ? '' : chosen, version);
  const [check, setCheck] = useState<ScriptCheck>();
  const [removing, setRemoving] = useState(false);
  const file = useRef<HTMLInputElement>(null);

  const choose = useCallback(
    (id: string, of?: number) =>
      router.replace(`/scripts?script=${encodeURIComponent(id)}${of ? `&version=${of}` : ''}`),
    [router],
  );
  const saved = script?.text ?? '';
  const text = drafts[chosen] ?? (chosen === NEW ? BEGINNING : saved);
  const isOwn = chosen === NEW || script?.isOwn === true;
  const isOld = script?.version !== undefined && script.shownVersion !== script.version;
  const isChanged = chosen === NEW || (drafts[chosen] !== undefined && drafts[chosen] !== saved);

  const save = useAction(
    (given: string) =>
      api.post<{ id: string; version: number }>(
        chosen === NEW ? 'scripts' : `scripts/${encodeURIComponent(chosen)}`,
        { text: given },
      ),
    ({ id, version: made }) => {
      setDraft(chosen, undefined);
      enqueueSnackbar(`Saved as version ${made}. A scan of a game opens its archives with it.`);
      choose(id);
    },
  );
  const remove = useAction(
    (id: string) => api.remove(`scripts/${encodeURIComponent(id)}`),
    (_done, id) => {
      setDraft(id, undefined);
      setRemoving(false);
      router.replace('/scripts');
    },
  );
  const canSave = isOwn && (isChanged || isOld) && check?.problem === undefined && !save.isPending;
  const trySave = useRef<() => void>(() => undefined);
  // In the same step as what is seen: keys pressed at once must not meet what was true before.
  useLayoutEffect(() => {
    trySave.current = () => {
      if (canSave) save.mutate(text);
    };
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if ((event.ctrlKey || event.metaKey) && event.key === 's') {
        event.preventDefault();
        trySave.current();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);

  const begin = (from: string): void => {
    setDraft(NEW, from);
    choose(NEW);
  };
  const exportText = (): void => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([text], { type: 'application/yaml' }));
    link.download = `${chosen === NEW ? 'script' : chosen.replace(/^own-/, '')}.yaml`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const title = chosen === NEW ? 'New script' : (script?.title ?? '');
  return (
    <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column' }}>
      <TopBar />
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <Box
          component="aside"
          sx={{
            width: 270,
            flexShrink: 0,
            overflow: 'auto',
            borderRight: 1,
            borderColor: 'line',
            bgcolor: 'panel',
          }}
        >
          <Box sx={{ display: 'flex', gap: 1, p: 1.5 }}>
            <Button
              size="small"
              variant="contained"
              startIcon={<AddRounded />}
              onClick={() => begin(drafts[NEW] ?? BEGINNING)}
            >
              New script
            </Button>
            <Button size="small" onClick={() => file.current?.click()}>
              Import
            </Button>
            <input
              ref={file}
              type="file"
              accept=".yaml,.yml,text/yaml"
              hidden
              aria-label="Script file"
              onChange={(event) => {
                const [given] = event.target.files ?? [];
                event.target.value = '';
                void given?.text().then(begin);
              }}
            />
          </Box>
          {error && !scripts && <Failed error={error} />}
          {scripts && (
            <ScriptList
              scripts={scripts}
              chosen={chosen}
              drafts={new Set(Object.keys(drafts))}
              onChoose={choose}
            />
          )}
        </Box>
        <Box
          component="main"
          sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column', px: 2.75, py: 2 }}
        >
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mb: 1.5 }}>
            <Typography variant="h1" noWrap title={title} sx={{ flex: 1, minWidth: 0 }}>
              {title}
            </Typography>
            {script?.isOwn && script.versions.length > 0 && (
              <TextField
                select
                size="small"
                label="Version"
                value={script.shownVersion}
                onChange={(event) => choose(chosen, Number(event.target.value))}
                sx={{ width: 210 }}
              >
                {script.versions.map((one) => (
                  <MenuItem key={one.version} value={one.version}>
                    {one.version}, {new Date(one.savedAt).toLocaleString()}
                  </MenuItem>
                ))}
              </TextField>
            )}
            <Button onClick={exportText} disabled={text === ''}>
              Export
            </Button>
            {isOwn ? (
              <>
                {chosen === NEW ? (
                  <Button
                    disabled={!(NEW in drafts)}
                    onClick={() => {
                      setDraft(NEW, undefined);
                      router.replace('/scripts');
                    }}
                  >
                    Discard
                  </Button>
                ) : (
                  <>
                    <Button disabled={!isChanged} onClick={() => setDraft(chosen, undefined)}>
                      Discard changes
                    </Button>
                    <Button color="error" onClick={() => setRemoving(true)}>
                      Remove
                    </Button>
                  </>
                )}
                <Button
                  variant="contained"
                  disabled={!canSave}
                  loading={save.isPending}
                  onClick={() => save.mutate(text)}
                >
                  Save
                </Button>
              </>
            ) : (
              <Button variant="contained" disabled={!script} onClick={() => begin(saved)}>
                Copy to mine
              </Button>
            )}
          </Box>
          {failed && chosen !== NEW && <Failed error={failed} />}
          {chosen !== NEW && !script && !failed && <Loading what="Reading the script" />}
          {scripts?.length === 0 && chosen === '' && (
            <Blank title="No scripts">Write one, or import a file.</Blank>
          )}
          {(chosen === NEW || script) && (
            <>
              <ScriptEditor
                key={`${chosen} ${script?.shownVersion ?? ''}`}
                text={text}
                readOnly={!isOwn}
                onChange={(next) => {
                  if (isOwn) setDraft(chosen, next === saved && chosen !== NEW ? undefined : next);
                }}
                onCheck={setCheck}
              />
              <Box
                role="status"
                aria-label="What the script says"
                sx={{ display: 'flex', gap: 1.5, alignItems: 'center', pt: 1.25, minHeight: 40 }}
              >
                {check &&
                  (check.problem ? (
                    <>
                      <StateMark tone="bad">wrong</StateMark>
                      <Box sx={{ overflowWrap: 'anywhere' }}>{check.problem.message}</Box>
                    </>
                  ) : (
                    <>
                      <StateMark tone="good">reads</StateMark>
                      <Box sx={{ color: 'ink2' }}>{check.summary}</Box>
                    </>
                  ))}
                <Box sx={{ flex: 1 }} />
                {isOld && <StateMark tone="look">older version</StateMark>}
                {isChanged && <StateMark tone="look">not saved</StateMark>}
                {!isOwn && <Box sx={{ color: 'ink2' }}>Shipped scripts are read only.</Box>}
              </Box>
            </>
          )}
        </Box>
      </Box>
      <Dialog open={removing} onClose={() => setRemoving(false)}>
        <DialogTitle>Remove {title}?</DialogTitle>
        <DialogContent>
          Archives that only this script opens are shown as unknown after the next scan.{' '}
          {script && plural(script.versions.length, 'version')} of it stay in the storage folder, below
          scripts-removed.
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setRemoving(false)}>Keep it</Button>
          <Button color="error" loading={remove.isPending} onClick={() => remove.mutate(chosen)}>
            Remove
          </Button>
        </DialogActions>
      </Dialog>
    </Box>
  );
}
