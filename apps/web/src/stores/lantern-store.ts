import { create } from 'zustand';

interface LanternState {
  readonly open: boolean;
  readonly text: string;
  setOpen(open: boolean): void;
  toggle(): void;
  setText(text: string): void;
  /** Opens the panel with a text from the screen. */
  send(text: string): void;
}

/** Whether the Lantern is pulled out, and what is in it. */
export const useLantern = create<LanternState>((set) => ({
  open: false,
  text: '',
  setOpen: (open) => set({ open }),
  toggle: () => set((state) => ({ open: !state.open })),
  setText: (text) => set({ text }),
  send: (text) => set({ open: true, text }),
}));
