import { AudioWaveform } from 'lucide-react';
import type { JSX } from 'react';

/** Opens and closes the live input. */
export function LiveButton({ open, onToggle }: { open: boolean; onToggle: () => void }): JSX.Element {
  return (
    <button type="button" className="btn btn-tall" aria-expanded={open} onClick={onToggle}>
      <AudioWaveform size={20} aria-hidden /> {open ? 'Close the live input' : 'Live input'}
    </button>
  );
}
