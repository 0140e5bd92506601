import { PageLink } from '@/ui/kit/PageLink';
import { Blank } from '@/ui/kit/Blank';

export default function NotFound() {
  return (
    <Blank title="There is no such page" action={<PageLink href="/">To the shelf</PageLink>}>
      The address may be old or misspelt.
    </Blank>
  );
}
