import { createContext, useContext } from 'react';

/** Id of whoever plays in the window; empty for nobody. */
export const PlayedContext = createContext('');

export const usePlayed = (): string => useContext(PlayedContext);
