'use client';
import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { ReviewSession } from './session';
import type { ReviewState } from './review-state';

export const SessionContext = createContext<ReviewSession | null>(null);

export function useSession(): ReviewSession {
  const session = useContext(SessionContext);
  if (!session) throw new Error('used outside of a Review');
  return session;
}

export function useReview<T>(pick: (state: ReviewState) => T): T {
  return useStore(useSession().store, pick);
}
