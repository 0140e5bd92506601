import type { JSX } from 'react';
import { MEDIA_UI, uiOf } from '@/media/ui';

// Each made once, so that rows that keep their kind keep their icon as it is.
const MADE = new Map(
  MEDIA_UI.map(({ kind, Icon }) => [
    kind as string,
    <Icon key={kind} aria-label={kind} sx={{ fontSize: 18, color: 'ink2' }} />,
  ]),
);

export const KindIcon = ({ kind }: { kind: string }): JSX.Element => MADE.get(uiOf(kind) ? kind : 'data')!;
