'use client';
import NextLink from 'next/link';
import { useState, type ComponentProps } from 'react';

/** A link to another page. What that needs is fetched once the pointer or the focus is on it, and not for each link that is in sight. */
export function PageLink({ onMouseEnter, onFocus, ...props }: ComponentProps<typeof NextLink>) {
  const [isNear, setIsNear] = useState(false);
  return (
    <NextLink
      {...props}
      prefetch={isNear ? null : false}
      onMouseEnter={(event) => {
        setIsNear(true);
        onMouseEnter?.(event);
      }}
      onFocus={(event) => {
        setIsNear(true);
        onFocus?.(event);
      }}
    />
  );
}
