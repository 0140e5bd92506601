'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { uiOf } from '@/media/ui';
import type { LevelView, PartView } from '@/server/reading/level-view';
import { number, plural } from '../../format';
import { PageLink } from '../../kit/PageLink';
import { RowLink } from '../RowLink';

interface Props {
  readonly gameId: number;
  readonly part: PartView;
  readonly level: LevelView;
  readonly onGo: (table: string, row: number) => void;
  readonly onChoose: (part: number) => void;
}

const rounded = (value: number): string => number(Math.round(value * 100) / 100);

/** What a part is, where it stands, and what it hangs on. */
export function PartSide({ gameId, part, level, onGo, onChoose }: Props) {
  const { title, is, entry, at, turn, parent, to, item, stop } = part;
  const above = level.parts[parent];
  const inner = level.parts.filter((one) => level.parts[one.parent] === part).length;
  const glance = entry && uiOf(entry.kind)?.glance;
  return (
    <Box sx={{ fontSize: 14 }}>
      <Box
        role="status"
        aria-label="The part that is looked at"
        sx={{ fontWeight: 650, fontSize: 16, mb: 1 }}
      >
        {title}
      </Box>
      <Fact name="stands at">
        {at
          .slice(0, Math.max(2, level.axes.length))
          .map((value, i) => `${level.axes[i] ?? ''} ${rounded(value)}`)
          .join(', ')}
      </Fact>
      {turn !== 0 && <Fact name="turned">{rounded(turn)}°</Fact>}
      {is.length > 0 && (
        <Fact name="is">
          {is.map((one, i) => (
            <Box key={i}>
              <RowLink to={one} onGo={onGo} />
            </Box>
          ))}
        </Fact>
      )}
      <Fact name={item === null ? 'its row' : `part ${item + 1} of`}>
        <RowLink to={to} onGo={onGo} />
      </Fact>
      {above && (
        <Fact name="hangs on">
          <Button size="small" sx={{ px: 0.5, minWidth: 0 }} onClick={() => onChoose(parent)}>
            {above.title}
          </Button>
        </Fact>
      )}
      {inner > 0 && <Fact name="holds">{plural(inner, 'part')}</Fact>}
      {stop && <Box sx={{ color: 'warning.main', mt: 1 }}>What is within it is not told: it {stop}.</Box>}
      {entry && (
        <Box sx={{ mt: 1.5 }}>
          <PageLink
            style={{ color: 'inherit', fontSize: 12.5, overflowWrap: 'anywhere' }}
            href={`/games/${gameId}/contents?entry=${entry.archiveId}:${entry.index}`}
          >
            {glance && (
              <Box
                component="img"
                src={`/api/games/${gameId}/entries/${entry.archiveId}/${entry.index}/${glance}`}
                alt=""
                loading="lazy"
                sx={{ display: 'block', maxHeight: 140, maxWidth: '100%' }}
              />
            )}
            {entry.path}
          </PageLink>
        </Box>
      )}
    </Box>
  );
}

function Fact({ name, children }: { readonly name: string; readonly children: React.ReactNode }) {
  return (
    <Box sx={{ display: 'flex', gap: 1, py: 0.4, borderBottom: 1, borderColor: 'line' }}>
      <Box sx={{ color: 'ink2', flex: '0 0 34%', fontSize: 13 }}>{name}</Box>
      <Box sx={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>{children}</Box>
    </Box>
  );
}
