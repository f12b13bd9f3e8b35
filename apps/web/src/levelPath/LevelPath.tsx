import { formatQuantity, weakestStage, type LevelStage } from '@yield/core';
import { ChevronUp } from 'lucide-react';
import { lazy, Suspense, type JSX } from 'react';
import { useDraft } from '../ui/useDraft.ts';
import { useWidth } from '../ui/useWidth.ts';
import { ROLE } from './stageWords.ts';

// Folded at first: its scale is no part of what a first visit fetches.
const LevelDrawing = lazy(() => import('./LevelDrawing.tsx'));

const PHONE = 520;

/** The chain on one scale: at each stage the level of a full-scale tone now, its clean ceiling, and the headroom between. */
export function LevelPath({ title, stages }: { title: string; stages: readonly LevelStage[] }): JSX.Element {
  const [ref, width] = useWidth();
  const [open, setOpen] = useDraft('level-path');
  const weakest = weakestStage(stages);
  const isOpen = open !== '';
  return (
    <section aria-label={`Level path of ${title}`}>
      <button
        type="button"
        aria-expanded={isOpen}
        onClick={() => setOpen(isOpen ? null : 'open')}
        className="flex min-h-11 w-full cursor-pointer items-center gap-2 text-left text-sm"
      >
        <ChevronUp size={16} aria-hidden className={`shrink-0 ${isOpen ? 'rotate-180' : ''}`} />
        <span className="min-w-0">
          <span className="font-semibold max-sm:sr-only">Level path </span>
          <span className={weakest?.headroomDb !== undefined && weakest.headroomDb < -0.05 ? 'text-stop font-medium' : 'text-quiet'}>
            {weakestWords(weakest)}
          </span>
        </span>
      </button>
      <div ref={ref} className={isOpen ? 'bg-raised rounded-lg px-3 pt-1' : 'hidden'}>
        {width > 0 && width < PHONE && weakest !== undefined && <StageFigures stage={weakest} />}
        {width >= PHONE && isOpen && (
          <Suspense fallback={<div className="h-33.5" />}>
            <LevelDrawing stages={stages} width={width} {...(weakest === undefined ? {} : { weakestId: weakest.id })} />
          </Suspense>
        )}
      </div>
    </section>
  );
}

function weakestWords(weakest: LevelStage | undefined): string {
  if (weakest?.headroomDb === undefined) return 'Take a reading to see the headroom.';
  const name = ROLE[weakest.id].toLowerCase();
  if (weakest.headroomDb < -0.05) return `The ${name} runs ${formatQuantity(-weakest.headroomDb, 'dB')} over its ceiling.`;
  if (weakest.headroomDb < 0.05) return `The ${name} is at its ceiling.`;
  return `Least headroom: ${name}, ${formatQuantity(weakest.headroomDb, 'dB')}.`;
}

/** At phone width only the weakest stage is shown. */
function StageFigures({ stage }: { stage: LevelStage }): JSX.Element {
  return (
    <p className="pb-1">
      <span className="text-quiet">{ROLE[stage.id]}: </span>
      <span className="font-semibold">{stage.nowVolt === undefined ? 'not read yet' : formatQuantity(stage.nowVolt, 'V')}</span>
      {stage.ceilingVolt !== undefined && <span className="text-quiet"> of {formatQuantity(stage.ceilingVolt, 'V')}</span>}
    </p>
  );
}
