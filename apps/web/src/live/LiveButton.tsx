import { AudioWaveform } from 'lucide-react';
import type { JSX } from 'react';

/** Opens and closes the live input. */
export function LiveButton({ open, onToggle }: { open: boolean; onToggle: () => void }): JSX.Element {
  return (
    <button
      type="button"
      className="btn btn-tall"
      aria-expanded={open}
      aria-label={open ? 'Close live input' : 'Live input'}
      title="The computer’s audio input as a scope"
      onClick={onToggle}
    >
      <AudioWaveform size={20} aria-hidden /> {open ? 'Close live' : 'Live'}
    </button>
  );
}
