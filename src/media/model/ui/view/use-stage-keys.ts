'use client';
import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';

/** Keys on the stage around a canvas; `take` says whether a key means something here, and is not the browser's then. It has to be a stable one. */
export function useStageKeys(take: (key: string) => boolean): void {
  const { gl, invalidate } = useThree();
  useEffect(() => {
    const stage = gl.domElement.closest<HTMLElement>('[data-stage]');
    const press = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.altKey || event.metaKey || !take(event.key)) return;
      event.preventDefault();
      event.stopPropagation();
      invalidate();
    };
    stage?.addEventListener('keydown', press);
    return () => stage?.removeEventListener('keydown', press);
  }, [gl, invalidate, take]);
}
