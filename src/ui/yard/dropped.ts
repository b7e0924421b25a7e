'use client';
/** What is dropped on a yard: a bundle becomes a piece as it was, other files become the Stock of a new one. */
import { useRouter } from 'next/navigation';
import type { DragEvent } from 'react';
import { ask } from '@/api/ask';
import { INTAKE_LIMITS } from '@/core/intake/limits';
import { say } from '../kit/say';

const isBundle = (f: File) => f.name.toLowerCase().endsWith('.scaphos.zip');

export function useDroppedOnYard(yard: string, bring: (bundle: File) => void) {
  const router = useRouter();
  const toNewPiece = async (files: readonly File[]) => {
    const large = files.find((f) => f.size > INTAKE_LIMITS.fileBytes);
    if (large) return void say.error(`${large.name} is larger than the ${INTAKE_LIMITS.fileBytes / 1e6} MB that a file may have.`);
    const { id } = await ask((api) => api.createPiece(yard, files[0].name.replace(/\.[^.]*$/, '').slice(0, 120) || 'New piece'));
    await (await import('../stock/arrivals')).keepForLater(id, files);
    router.push(`/piece/${id}/stock`);
  };
  return {
    onDragOver: (e: DragEvent) => {
      if (e.dataTransfer.types.includes('Files')) e.preventDefault();
    },
    onDrop: (e: DragEvent) => {
      const files = [...e.dataTransfer.files];
      if (files.length === 0) return;
      e.preventDefault();
      for (const f of files.filter(isBundle)) bring(f);
      const others = files.filter((f) => !isBundle(f));
      if (others.length > 0) toNewPiece(others).catch((error: Error) => say.error(error.message));
    },
  };
}
