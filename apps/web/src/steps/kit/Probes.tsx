import type { ChannelNow } from '@yield/core';
import type { JSX } from 'react';

/** Where the probes go: the channel's terminals, the meter on AC volts or a scope, the drivers on or off. */
export function Probes({
  step,
  loadOn,
  scope = false,
}: {
  step: Pick<ChannelNow, 'channel'>;
  loadOn: boolean;
  scope?: boolean;
}): JSX.Element {
  const { terminals, mode, dummyOhm } = step.channel;
  const words = mode === 'bridged' ? 'across the pair' : 'plus and minus';
  return (
    <figure className="min-w-0">
      <svg
        viewBox="0 0 260 124"
        className="w-full max-w-48 max-sm:hidden"
        role="img"
        aria-label={`Probes on ${terminals}, ${words}; drivers ${loadOn ? 'connected' : 'disconnected'}`}
      >
        <g fill="none" stroke="var(--ink)" strokeWidth="1.5">
          <rect x="4" y="30" width="74" height="64" rx="4" fill="var(--ground)" />
          <circle cx="62" cy="48" r="7" fill="var(--raised)" />
          <circle cx="62" cy="77" r="7" fill="var(--raised)" />
          <path d="M58 48h8M62 44v8M58 77h8" />
        </g>
        <text x="12" y="54" fontSize="12" fill="var(--quiet)">
          Amp
        </text>
        <g fill="none" strokeWidth="2.5" strokeLinecap="round">
          <path d="M66 41 C84 14 96 14 108 14" stroke="var(--stop)" />
          <path d="M66 84 C84 112 96 112 108 112" stroke="var(--ink)" />
          <path d="M108 14h18v24M108 112h18V88" stroke="var(--quiet)" strokeWidth="1.5" />
        </g>
        <rect x="104" y="38" width="44" height="50" rx="5" fill="var(--ground)" stroke="var(--ink)" strokeWidth="1.5" />
        <text x="126" y="60" fontSize="15" fontWeight="600" textAnchor="middle" fill="var(--ink)">
          V
        </text>
        <path d="M116 72c3-6 6-6 10 0s7 6 10 0" fill="none" stroke="var(--ink)" strokeWidth="1.8" />
        <g fill="none" stroke="var(--ink)" strokeWidth="1.5">
          <path d="M206 48h8v30h-8zM214 48l16-14v58l-16-14" fill="var(--ground)" />
          {loadOn ? (
            <path d="M206 56H168M206 70H168" />
          ) : (
            <path d="M206 56h-12M206 70h-12M184 49l-8 14M184 63l-8 14" strokeDasharray="none" />
          )}
        </g>
        <text x="218" y="116" fontSize="12" textAnchor="middle" fill={loadOn ? 'var(--ink)' : 'var(--quiet)'}>
          {loadOn ? (dummyOhm === undefined ? 'drivers on' : 'dummy load on') : 'drivers off'}
        </text>
      </svg>
      <figcaption className="text-quiet mt-1 text-sm leading-snug">
        <span className="text-ink font-medium">{terminals}</span>, {words}. {scope ? 'Scope.' : 'AC volts.'}
      </figcaption>
    </figure>
  );
}
