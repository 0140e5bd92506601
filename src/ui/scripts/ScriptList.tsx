'use client';
import List from '@mui/material/List';
import ListItemButton from '@mui/material/ListItemButton';
import ListItemText from '@mui/material/ListItemText';
import ListSubheader from '@mui/material/ListSubheader';
import type { ScriptView } from '@/server/opening/scripts';

/** Own scripts first, then those that ship. */
export function ScriptList({
  scripts,
  chosen,
  drafts,
  onChoose,
}: {
  scripts: readonly ScriptView[];
  chosen: string;
  drafts: ReadonlySet<string>;
  onChoose: (id: string) => void;
}) {
  const group = (title: string, shown: readonly ScriptView[], empty: string) => (
    <>
      <ListSubheader
        component="div"
        disableSticky
        sx={{ bgcolor: 'transparent', color: 'ink2', lineHeight: '32px' }}
      >
        {title}
      </ListSubheader>
      {shown.length === 0 && <ListItemText secondary={empty} sx={{ px: 2 }} />}
      {shown.map((script) => (
        <ListItemButton
          key={script.id}
          dense
          selected={script.id === chosen}
          onClick={() => onChoose(script.id)}
        >
          <ListItemText
            primary={script.title}
            secondary={
              drafts.has(script.id)
                ? 'not saved'
                : script.version === undefined
                  ? script.triedOn.join(', ') || script.id
                  : `version ${script.version}`
            }
            slotProps={{
              primary: { noWrap: true, title: script.title, sx: { fontSize: 13.5 } },
              secondary: { noWrap: true, sx: { fontSize: 12 } },
            }}
          />
        </ListItemButton>
      ))}
    </>
  );
  return (
    <List component="nav" aria-label="Scripts" dense sx={{ py: 0 }}>
      {group(
        'Yours',
        scripts.filter(({ isOwn }) => isOwn),
        'None yet. Write one, import one, or begin with a copy of one below.',
      )}
      {group(
        'Shipped',
        scripts.filter(({ isOwn }) => !isOwn),
        '',
      )}
    </List>
  );
}
