import type { LookProps } from '@/media/medium-ui';
import { Failed, Loading } from '@/ui/kit/Blank';
import { useChangedText } from '@/ui/queries';
import { TextView } from './TextView';

/** A text, as it is or as a mod will have it; edited where it stands. */
export function TextLook({ gameId, data, version, changed, draftKey, onSave, saving }: LookProps) {
  const { modId = 0, id = 0, stamp = '' } = changed ?? {};
  const text = useChangedText(gameId, modId, id, stamp, changed !== undefined);
  const edit = { draftKey, saving, onSave: (now: string) => onSave(now, draftKey ?? '') };
  if (changed) {
    if (text.error) return <Failed error={text.error} />;
    if (!text.data) return <Loading what="Reading the change" />;
    return <TextView key={stamp} text={text.data.text} whole={text.data.whole} {...edit} />;
  }
  const { look } = data;
  if (look.sort !== 'text') return null;
  return (
    <TextView
      key={`${data.archiveId}:${data.index}:${version}:${draftKey}`}
      text={look.text}
      whole={look.whole}
      {...edit}
    />
  );
}
