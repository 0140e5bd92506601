'use client';
import Button from '@mui/material/Button';
import { Failed } from '@/ui/kit/Blank';

export default function ErrorPage({ error, reset }: { error: Error; reset: () => void }) {
  return <Failed error={error} again={<Button onClick={reset}>Try again</Button>} />;
}
