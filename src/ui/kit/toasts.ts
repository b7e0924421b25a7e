'use client';
import { soon } from './lazily';

/** Where messages are shown. */
export const Toasts = soon(() => import('./messages'), 'Messages');
