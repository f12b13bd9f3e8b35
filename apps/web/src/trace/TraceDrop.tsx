import { FileUp } from 'lucide-react';
import { useRef, useState, type JSX, type ReactNode } from 'react';
import { ErrorNotice } from '../ui/Notice.tsx';
import { useKeys } from '../ui/useKeys.ts';
import type { TakeCapture } from './useTakeCapture.ts';

interface Props {
  label: string;
  capture: TakeCapture;
  /** what kind of file is wanted, on the button */
  wanted?: string;
  /** of two on one screen, one has the key */
  withKey?: boolean;
  /** without it no rails are asked for */
  withRails?: boolean;
  /** further ways to a capture, beside the button */
  children?: ReactNode;
}

/** Takes a capture by drop or choice. */
export function TraceDrop({ label, capture, wanted = 'CSV or WAV', withKey = true, withRails = true, children }: Props): JSX.Element {
  const { state, take, cancel } = capture;
  const [over, setOver] = useState(false);
  const [rails, setRails] = useState('');
  const input = useRef<HTMLInputElement>(null);
  useKeys(withKey ? { s: () => input.current?.click() } : {});
  const accept = (file: File | undefined): void => {
    if (file === undefined) return;
    const volt = Number(rails.replace(',', '.'));
    void take(file, volt > 0 ? volt : undefined);
  };

  return (
    <div>
      <p className="label flex items-center gap-2">
        {label} {withKey && <kbd className="key">s</kbd>}
      </p>
      <div
        className={`mt-1 flex min-h-15 flex-wrap items-center justify-center gap-x-3 gap-y-1 rounded-md border-2 border-dashed px-2 py-1.5 text-center ${over ? 'border-action' : 'border-line'}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          accept(event.dataTransfer.files[0]);
        }}
      >
        {state.kind === 'working' ? (
          <>
            <p role="status">
              {state.words}: {state.fileName} …
            </p>
            <progress className="progress w-48" />
            <button type="button" className="btn" onClick={cancel}>
              Cancel
            </button>
          </>
        ) : (
          <>
            <button type="button" className="btn btn-tall" onClick={() => input.current?.click()}>
              <FileUp size={20} aria-hidden /> {wanted}
            </button>
            {children}
            <p className="text-quiet text-sm">or drop it here</p>
          </>
        )}
        <input
          ref={input}
          type="file"
          className="sr-only"
          aria-label="Capture file"
          tabIndex={-1}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            accept(file);
          }}
        />
      </div>
      {withRails && (
        <label
          className="text-quiet mt-1 flex items-center gap-2 text-sm"
          title="The peak voltage where the recorder itself clips. It separates an over-range capture from a clipped amplifier."
        >
          Recorder full scale
          <input
            value={rails}
            onChange={(event) => setRails(event.target.value)}
            inputMode="decimal"
            className="border-line bg-ground text-ink min-h-8 w-16 rounded-md border px-2 text-right"
          />{' '}
          V
        </label>
      )}
      {state.kind === 'refused' && (
        <div className="mt-2">
          <ErrorNotice>
            <p className="font-medium">{state.fileName} was not taken.</p>
            <p className="mt-0.5">{state.message}</p>
          </ErrorNotice>
        </div>
      )}
    </div>
  );
}
