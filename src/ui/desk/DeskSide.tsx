'use client';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { Progress } from '@/media/text/core/desk';
import type { DeskOverview } from '@/server/desk/desk-view';
import { number } from '../format';
import type { DeskView } from './desk-state';

interface Props {
  readonly overview: DeskOverview;
  readonly view: DeskView;
  readonly onView: (change: Partial<DeskView>) => void;
}

/** How far all is, by table and speaker; each narrows the list. */
export function DeskSide({ overview, view, onView }: Props) {
  const { byTable, bySpeaker, lines, counts } = overview;
  return (
    <Box sx={{ height: '100%', overflow: 'auto', p: 1 }}>
      <Group title="Tables">
        <Row
          name="All"
          title="All tables"
          isOn={view.place === '' && view.speaker === ''}
          of={{
            name: '',
            lines,
            words: 0,
            filled: lines - counts.empty,
            changed: counts.changed,
            done: counts.done,
            doneWords: 0,
            reviewed: counts.reviewed,
            failing: counts.failing,
          }}
          onChoose={() => onView({ place: '', speaker: '', line: '' })}
        />
        {byTable.map((one) => (
          <Row
            key={one.name}
            name={one.path.slice(one.path.lastIndexOf('/') + 1)}
            title={one.path}
            isOn={view.place === one.name}
            of={one}
            onChoose={() => onView({ place: view.place === one.name ? '' : one.name, line: '' })}
          />
        ))}
      </Group>
      {bySpeaker.length > 0 && (
        <Group title="Speakers">
          {bySpeaker.map((one) => (
            <Row
              key={one.name}
              name={one.name}
              title={one.name}
              isOn={view.speaker === one.name}
              of={one}
              onChoose={() => onView({ speaker: view.speaker === one.name ? '' : one.name, line: '' })}
            />
          ))}
        </Group>
      )}
    </Box>
  );
}

function Group({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box sx={{ mb: 2 }}>
      <Typography variant="h2" sx={{ fontSize: 13, px: 0.75, mb: 0.5 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

function Row({
  name,
  title,
  isOn,
  of,
  onChoose,
}: {
  name: string;
  title: string;
  isOn: boolean;
  of: Progress;
  onChoose: () => void;
}) {
  const share = (count: number): string => `${of.lines === 0 ? 0 : (100 * count) / of.lines}%`;
  const said = `${title}: ${number(of.lines)} lines, ${number(of.filled)} with a text, ${number(of.done)} done, ${number(of.reviewed)} reviewed${of.failing > 0 ? `, ${number(of.failing)} failing` : ''}${of.words > 0 ? `, ${number(of.doneWords)} of ${number(of.words)} words done` : ''}`;
  return (
    <Box
      component="button"
      aria-pressed={isOn}
      title={said}
      onClick={onChoose}
      sx={{
        ...{ all: 'unset', boxSizing: 'border-box', display: 'block', width: '100%', cursor: 'pointer' },
        ...{ px: 0.75, py: 0.5, borderRadius: 1, bgcolor: isOn ? 'tint' : undefined },
        '&:hover': { bgcolor: 'tint' },
        '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
      }}
    >
      <Box sx={{ display: 'flex', gap: 1, fontSize: 13 }}>
        <Box
          sx={{
            flex: 1,
            minWidth: 0,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
            fontWeight: isOn ? 700 : 400,
          }}
        >
          {name}
        </Box>
        {of.failing > 0 && <Box sx={{ color: 'bad', fontSize: 12 }}>{number(of.failing)} failing</Box>}
        <Box sx={{ color: 'ink2', fontSize: 12 }}>{number(of.lines)}</Box>
      </Box>
      <Box
        sx={{
          height: 3,
          mt: 0.3,
          bgcolor: 'line',
          borderRadius: 1,
          position: 'relative',
          overflow: 'hidden',
        }}
      >
        <Box
          sx={{ position: 'absolute', inset: 0, width: share(of.filled), bgcolor: 'mute', opacity: 0.45 }}
        />
        <Box sx={{ position: 'absolute', inset: 0, width: share(of.done), bgcolor: 'good' }} />
      </Box>
    </Box>
  );
}
