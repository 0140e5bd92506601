import Link from 'next/link';
import { Blank } from '@/ui/kit/Blank';

export default function NotFound() {
  return (
    <Blank title="There is no such page" action={<Link href="/">To the shelf</Link>}>
      The address may be old or misspelt.
    </Blank>
  );
}
