'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { LineFinding } from '@/media/text/core/lines';
import type { DeskLineView, DeskRow } from '@/server/desk/desk-view';
import { TakeButton } from '@/media/sound/ui/TakeButton';
import { when } from '../format';
import { Failed, Loading } from '../kit/Blank';
import { Facts } from '../kit/Facts';
import { StateMark } from '../kit/StateMark';
import { PageLink } from '../kit/PageLink';
import { refOf, type DeskView, type LineRef } from './desk-state';
import { useCheck, useLine } from './use-desk';
import { isOther } from './use-writing';

export interface LineWish {
  readonly text?: string;
  readonly state?: 'draft' | 'done' | 'reviewed';
  readonly isBack?: boolean;
}

interface Props {
  readonly gameId: number;
  readonly modId: number;
  readonly view: DeskView;
  readonly line: LineRef | undefined;
  readonly tongue: { readonly code: string; readonly name: string };
  readonly onEdit: (row: DeskRow, wish: LineWish) => void;
  readonly onMany: (rows: readonly DeskRow[], text: string) => void;
  readonly onGo: (line: LineRef) => void;
  readonly onForms: (row: DeskRow) => void;
  readonly onComment: (line: LineRef, text: string) => void;
  /** Whether something is written here that is not kept yet. */
  readonly onDraft: (isDraft: boolean) => void;
}

/** All that is known of the chosen line, and its text to be written at length. */
export function LinePanel(props: Props) {
  const { gameId, modId, view, line } = props;
  const { data, error } = useLine(gameId, modId, view, line);
  if (!line)
    return <Box sx={{ p: 2, color: 'ink2' }}>Choose a line to see all of it. Enter writes in it.</Box>;
  if (error && !data) return <Failed error={error} />;
  if (!data) return <Loading what="Looking at the line" />;
  return <Chosen key={refOf(line)} {...props} line={line} data={data} />;
}

function Chosen({
  gameId,
  modId,
  view,
  line,
  data,
  tongue,
  onEdit,
  onMany,
  onGo,
  onForms,
  onComment,
  onDraft,
}: Props & { line: LineRef; data: DeskLineView }) {
  const { row } = data;
  // A draft knows what it began from, so that what somebody else wrote meanwhile is not written over unseen.
  const [written, setWritten] = useState<{ readonly text: string; readonly base: string }>();
  const draft = written?.text;
  const text = draft ?? row.text;
  const setDraft = (now: string | undefined): void =>
    setWritten(now === undefined ? undefined : { text: now, base: written?.base ?? row.text });
  const keep = (wish: LineWish = {}): void => {
    const began = { ...row, text: written?.base ?? row.text };
    onEdit(began, { ...(text !== began.text && { text }), ...wish });
    setWritten(undefined);
  };
  const put = (now: string): void => setDraft(now);
  const isDraft = written !== undefined && written.text !== written.base;
  useEffect(() => {
    onDraft(isDraft);
    return () => onDraft(false);
  }, [isDraft, onDraft]);
  return (
    <Box sx={{ p: 1.5, height: '100%', overflow: 'auto' }} aria-label="Line" component="section">
      <Box className="mono" sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>
        {row.key}
      </Box>
      <Box sx={{ color: 'ink2', fontSize: 12.5, mb: 1, overflowWrap: 'anywhere' }}>
        {data.file ? (
          <PageLink
            style={{ color: 'inherit' }}
            href={`/games/${gameId}/contents?entry=${data.file.archiveId}:${data.file.index}`}
          >
            {data.file.path}
          </PageLink>
        ) : (
          row.place
        )}
        {row.speaker && `, said by ${row.speaker}`}
      </Box>
      <Box sx={{ ...SAID, mb: 1 }} dir="auto">
        {row.source ?? <i>not in the source language</i>}
      </Box>
      <TextField
        fullWidth
        multiline
        minRows={3}
        maxRows={12}
        label={tongue.name}
        value={text}
        onChange={(event) => setDraft(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
            event.preventDefault();
            keep({ state: 'done' });
          }
          event.stopPropagation();
        }}
        slotProps={{ htmlInput: { lang: tongue.code, dir: 'auto' } }}
      />
      {row.writer && isOther(row.writer) && (
        <Box role="status" sx={{ mt: 0.5, color: 'look', fontSize: 13 }}>
          {row.writer.by || 'Somebody'} writes in it now.
        </Box>
      )}
      {written && written.base !== row.text && (
        <Box
          role="alert"
          sx={{ mt: 0.5, px: 1, py: 0.5, bgcolor: 'lookBack', fontSize: 13, overflowWrap: 'anywhere' }}
        >
          {row.by || 'Somebody'} has changed it meanwhile to “{row.text}”.{' '}
          <Button size="small" onClick={() => setWritten({ text, base: row.text })}>
            Mine is to stand
          </Button>
        </Box>
      )}
      <Checks {...{ gameId, modId, view, line, text }} onMend={put} />
      {data.lacks.length > 0 && (
        <Button size="small" onClick={() => onForms(row)}>
          {data.lacks.length === 1 ? `Add ${data.lacks[0]!}` : `Add ${data.lacks.length} forms`}
        </Button>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, my: 1 }}>
        {draft !== undefined && draft !== row.text && (
          <Button variant="contained" onClick={() => keep()}>
            Keep
          </Button>
        )}
        <Button
          variant="outlined"
          onClick={() => keep({ state: 'done' })}
          disabled={text === '' || (row.state === 'done' && draft === undefined)}
        >
          Done
        </Button>
        <Button
          variant="outlined"
          onClick={() => keep({ state: 'reviewed' })}
          disabled={text === '' || (row.state === 'reviewed' && draft === undefined)}
        >
          Reviewed
        </Button>
        {row.source !== null && row.source !== text && (
          <Button onClick={() => put(row.source!)}>Source as text</Button>
        )}
        {(row.state !== null || draft !== undefined) && (
          <Button
            onClick={() => {
              setDraft(undefined);
              if (row.state !== null) onEdit(row, { isBack: true });
            }}
          >
            As the game has it
          </Button>
        )}
      </Box>
      <Said data={data} onPut={put} />
      {data.alike.length > 0 && (
        <Part
          title={`The same source in ${data.alike.length} other ${data.alike.length === 1 ? 'line' : 'lines'}`}
        >
          {data.alike.slice(0, 4).map((other) => (
            <Other key={refOf(other)} row={other} onGo={onGo} />
          ))}
          {text !== '' && data.alike.some((other) => other.text !== text) && (
            <Button
              size="small"
              onClick={() =>
                onMany(
                  data.alike.filter((other) => other.text !== text),
                  text,
                )
              }
            >
              Say all of them so
            </Button>
          )}
        </Part>
      )}
      {data.voices.length > 0 && (
        <Part title="Said aloud">
          {data.voices.map(({ entry, tongue: spoken }) => (
            <Box
              key={`${entry.archiveId}:${entry.index}`}
              sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 13 }}
            >
              <TakeButton gameId={gameId} entry={entry} label={entry.path} />
              <PageLink
                style={{ color: 'inherit' }}
                href={`/games/${gameId}/contents?entry=${entry.archiveId}:${entry.index}`}
              >
                {entry.path}
              </PageLink>
              <Box sx={{ color: 'ink2' }}>{spoken}</Box>
            </Box>
          ))}
        </Part>
      )}
      {data.pictures.length > 0 && (
        <Part title="Seen with it">
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75 }}>
            {data.pictures.map(({ entry }) => (
              <PageLink
                key={`${entry.archiveId}:${entry.index}`}
                href={`/games/${gameId}/contents?entry=${entry.archiveId}:${entry.index}`}
                title={entry.path}
              >
                <Box
                  component="img"
                  src={`/api/games/${gameId}/entries/${entry.archiveId}/${entry.index}/picture?most=96`}
                  alt={entry.path}
                  loading="lazy"
                  sx={{
                    height: 64,
                    maxWidth: 96,
                    objectFit: 'contain',
                    bgcolor: 'tint',
                    borderRadius: '3px',
                  }}
                />
              </PageLink>
            ))}
          </Box>
        </Part>
      )}
      <Part title="Around it">
        {[...data.before, row, ...data.after].map((other) => (
          <Other key={refOf(other)} row={other} isIt={other.number === row.number} onGo={onGo} />
        ))}
      </Part>
      <Comments data={data} onSend={(said) => onComment(line, said)} />
      {data.earlier.length > 0 && (
        <Part title="Earlier">
          {data.earlier.map(({ text: was, by, at, state }, i) => (
            <Box key={i} sx={{ py: 0.5, borderBottom: 1, borderColor: 'line', fontSize: 13 }}>
              <Box sx={{ color: 'ink2', fontSize: 12 }}>
                {by || 'somebody'}, {when(at)}
                {state ? `, ${state}` : ', put back'}
              </Box>
              <Box component="button" sx={PLAIN} title="Take this text" onClick={() => put(was)} dir="auto">
                {was || <i>nothing</i>}
              </Box>
            </Box>
          ))}
        </Part>
      )}
      <Part title="Of the line">
        <PageLink
          style={{ color: 'inherit', fontSize: 13 }}
          href={`/games/${gameId}/read?${new URLSearchParams({ over: 'value', value: row.key }).toString()}`}
        >
          Where tables name it
        </PageLink>
        <Facts
          rows={[
            ['In the game', row.was ?? 'nothing'],
            row.limit ? ['At most', `${row.limit.most} ${row.limit.unit}`] : undefined,
            row.width ? ['At most', `${row.width} wide`] : undefined,
            data.note ? ['Note', data.note] : undefined,
            ['Table', row.place],
          ]}
        />
      </Part>
    </Box>
  );
}

function Checks({
  gameId,
  modId,
  view,
  line,
  text,
  onMend,
}: {
  gameId: number;
  modId: number;
  view: DeskView;
  line: LineRef;
  text: string;
  onMend: (text: string) => void;
}) {
  const { data = [] } = useCheck(gameId, modId, view, line, text);
  return (
    <Box role="status" aria-label="Checks" sx={{ mt: 1 }}>
      {data.map((finding: LineFinding) => (
        <Box key={`${finding.code} ${finding.what}`} sx={{ py: 0.6, borderBottom: 1, borderColor: 'line' }}>
          <StateMark tone={finding.state === 'wrong' ? 'bad' : 'look'}>{finding.what}</StateMark>
          <Box sx={{ color: 'ink2', fontSize: 12.5, mt: 0.3 }}>{finding.why}.</Box>
          {finding.mend !== undefined && (
            <Button size="small" onClick={() => onMend(finding.mend!)}>
              Write it as {finding.mend.length > 40 ? `${finding.mend.slice(0, 40)} …` : finding.mend}
            </Button>
          )}
        </Box>
      ))}
    </Box>
  );
}

/** What was said before for sources like this one, and what the glossary has. */
function Said({ data, onPut }: { data: DeskLineView; onPut: (text: string) => void }) {
  if (data.offers.length === 0 && data.terms.length === 0) return null;
  return (
    <Part title="Said before">
      {data.terms.map(({ source, target }) => (
        <Box key={source} sx={{ fontSize: 13, py: 0.3 }}>
          {source} is called <b>{target}</b>
        </Box>
      ))}
      {data.offers.map(({ source, text, likeness }) => (
        <Box key={source} sx={{ py: 0.5, borderBottom: 1, borderColor: 'line', fontSize: 13 }}>
          <Box component="button" sx={PLAIN} title="Take this text" onClick={() => onPut(text)} dir="auto">
            {text}
          </Box>
          <Box sx={{ color: 'ink2', fontSize: 12 }}>
            {Math.floor(likeness * 100)} % alike: {source}
          </Box>
        </Box>
      ))}
    </Part>
  );
}

function Other({ row, isIt = false, onGo }: { row: DeskRow; isIt?: boolean; onGo: (line: LineRef) => void }) {
  return (
    <Box
      component="button"
      aria-current={isIt || undefined}
      onClick={() => onGo(row)}
      sx={{
        ...PLAIN,
        display: 'block',
        width: '100%',
        py: 0.4,
        fontSize: 13,
        borderBottom: 1,
        borderColor: 'line',
        ...(isIt && { fontWeight: 600 }),
      }}
    >
      <Box component="span" sx={{ color: 'ink2', fontSize: 12 }}>
        {row.speaker || row.key}:{' '}
      </Box>
      {row.text || row.source}
    </Box>
  );
}

function Comments({ data, onSend }: { data: DeskLineView; onSend: (text: string) => void }) {
  const [text, setText] = useState('');
  const send = (): void => {
    if (text.trim() === '') return;
    onSend(text.trim());
    setText('');
  };
  return (
    <Part title="Comments">
      {data.comments.map(({ id, text: said, by, at }) => (
        <Box
          key={id}
          sx={{ py: 0.4, fontSize: 13, borderBottom: 1, borderColor: 'line', overflowWrap: 'anywhere' }}
        >
          <Box sx={{ color: 'ink2', fontSize: 12 }}>
            {by || 'somebody'}, {when(at)}
          </Box>
          {said}
        </Box>
      ))}
      <Box sx={{ display: 'flex', gap: 1, mt: 0.75 }}>
        <TextField
          size="small"
          fullWidth
          label="Say something of this line"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') send();
          }}
        />
        <Button onClick={send} disabled={text.trim() === ''}>
          Send
        </Button>
      </Box>
    </Part>
  );
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box sx={{ mt: 1.75 }}>
      <Typography variant="h3" sx={{ fontSize: 13, fontWeight: 700, mb: 0.5 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

const SAID = {
  ...{ p: 1, bgcolor: 'tint', borderRadius: 1, overflowWrap: 'anywhere', whiteSpace: 'pre-wrap' },
} as const;
const PLAIN = {
  ...{
    all: 'unset',
    cursor: 'pointer',
    boxSizing: 'border-box',
    overflowWrap: 'anywhere',
    textAlign: 'left',
  },
  '&:hover': { textDecoration: 'underline' },
  '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
} as const;

/** Choices of a language. */
export function TongueSelect({
  label,
  value,
  tongues,
  onChoose,
}: {
  label: string;
  value: string;
  tongues: readonly { tongue: string; name: string; isNew: boolean }[];
  onChoose: (tongue: string) => void;
}) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={(event) => onChoose(event.target.value)}
      sx={{ minWidth: 120 }}
    >
      {tongues.map(({ tongue, name, isNew }) => (
        <MenuItem key={tongue} value={tongue}>
          {name}
          {isNew ? ' (new)' : ''}
        </MenuItem>
      ))}
    </TextField>
  );
}
