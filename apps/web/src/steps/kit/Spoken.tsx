import { say } from '@yield/words';
import type { Finding } from '@yield/core';
import { Volume2 } from 'lucide-react';
import { useEffect, useRef, type JSX } from 'react';
import { useKept } from '../../ui/useKept.ts';

const canSpeak = (): boolean => 'speechSynthesis' in window;

/** Speaks by the browser's own voice; what was being said is broken off. */
function speak(words: string): void {
  window.speechSynthesis.cancel();
  const utterance = new SpeechSynthesisUtterance(words);
  utterance.lang = 'en';
  window.speechSynthesis.speak(utterance);
}

const aloud = (finding: Finding): string => {
  const { text, next = '' } = say(finding);
  return `${text} ${next}`;
};

/** As a voice says it: signs in words. */
const spoken = (text: string): string =>
  text
    .replaceAll('−', 'minus ')
    .replaceAll(/\bdB\b/g, 'decibels')
    .replaceAll(/\bV\b/g, 'volts')
    .replaceAll(/\bHz\b/g, 'hertz');

/** The verdict for eyes that are elsewhere: said when it is asked for, and where it is wished after each reading. */
export function Spoken({ findings, at }: { findings: readonly Finding[]; at: string | undefined }): JSX.Element | null {
  const [isOn, setIsOn] = useKept('spoken', (kept) => kept === true);
  const first = findings[0];
  const said = useRef(at);
  useEffect(() => {
    if (said.current === at) return;
    said.current = at;
    if (isOn === true && first !== undefined && canSpeak()) speak(spoken(aloud(first)));
  }, [at, first, isOn]);
  if (!canSpeak()) return null;
  return (
    <div className="flex flex-wrap items-center gap-x-3">
      <button
        type="button"
        className="btn btn-ghost text-action -ml-3"
        disabled={first === undefined}
        onClick={() => first !== undefined && speak(spoken(aloud(first)))}
      >
        <Volume2 size={18} aria-hidden /> Say it
      </button>
      <label className="text-quiet flex min-h-11 cursor-pointer items-center gap-2 text-sm">
        <input
          type="checkbox"
          className="checkbox"
          checked={isOn === true}
          onChange={(event) => setIsOn(event.target.checked ? true : null)}
        />
        after each reading
      </label>
    </div>
  );
}
