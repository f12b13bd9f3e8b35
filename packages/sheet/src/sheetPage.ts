import { escapeText as text } from './escapeText.ts';
import { scanSvg, scanText } from './scanCode.ts';
import { pictureSvg } from './picture.ts';
import { responsePicture, responseWords } from './responsePicture.ts';
import { systemPicture } from './systemPicture.ts';
import { wiringPicture } from './wiringPicture.ts';
import { NOTHING, type OwnerSheet, type SheetSignature } from './ownerSheet.ts';

type Channel = OwnerSheet['channels'][number];
const CELLS: readonly (readonly [name: string, of: (channel: Channel) => string])[] = [
  ['Load', ({ load }) => load],
  ['Set to', ({ set }) => set],
  ['Before', ({ before }) => before],
  ['Delivers', ({ delivered }) => delivered],
  ['Proof', ({ clean }) => clean],
  ['Filters', ({ filters }) => filters],
  ['Polarity', ({ polarity }) => polarity],
  ['Delay', ({ delay }) => delay],
  ['Equaliser', ({ equaliser }) => equaliser],
];

const STYLE = `
  :root { color-scheme: light; }
  body { font: 11pt/1.4 "IBM Plex Sans", system-ui, sans-serif; color: #161513; margin: 0 auto; padding: 10mm 12mm; max-width: 190mm; background: #fff; }
  h1 { font-size: 17pt; margin: 0; } h2 { font-size: 12pt; margin: 7mm 0 2mm; } p { margin: 0 0 2mm; }
  header { border-bottom: .5mm solid #161513; padding-bottom: 3mm; margin-bottom: 5mm; }
  .quiet { color: #57534a; } .volumes { display: flex; flex-wrap: wrap; gap: 4mm; padding: 0; margin: 0; list-style: none; }
  .volumes li { border: .4mm solid #bdb6a6; border-radius: 2mm; padding: 3mm 5mm; min-width: 42mm; }
  .volumes b { display: block; font-size: 34pt; line-height: 1.1; } .bar { height: 3mm; border-radius: 1.5mm; background: #e6e1d6; margin-top: 2mm; overflow: hidden; }
  .bar i { display: block; height: 100%; background: #1f4190; }
  .channel { border-top: .2mm solid #d8d2c4; padding: 2mm 0; break-inside: avoid; } .channel p { margin: 0 0 1mm; } h3 { font-size: 11pt; margin: 0; }
  dl { display: grid; grid-template-columns: repeat(auto-fill, minmax(34mm, 1fr)); gap: 1mm 4mm; margin: 0; font-size: 9.5pt; } dt { color: #57534a; font-size: 8.5pt; } dd { margin: 0; overflow-wrap: anywhere; }
  .scan { display: flex; align-items: center; gap: 3mm; margin: 3mm 0 0; } .scan svg { width: 24mm; height: 24mm; flex: none; }
  .drawing { overflow-x: auto; } .drawing svg { width: 100%; min-width: 130mm; height: auto; display: block; }
  .small svg { max-width: 150mm; } figure.response { margin: 0 0 4mm; break-inside: avoid; } details { margin-top: 2mm; } summary { cursor: pointer; min-height: 24px; font-size: 9.5pt; color: #1f4190; }
  .readings { margin-top: 6mm; overflow-x: auto; } table { border-collapse: collapse; width: 100%; font-size: 8.5pt; } th { text-align: left; color: #57534a; font-weight: 600; } td, th { border-top: .2mm solid #d8d2c4; padding: 1mm 2mm 1mm 0; vertical-align: top; }
  ul { margin: 0; padding-left: 5mm; } li { margin-bottom: 1mm; }
  .warn { border-left: 1.2mm solid #a35c00; padding: 1mm 0 1mm 3mm; }
  @media screen and (max-width: 640px) { body { padding: 5mm; } }
  @page { margin: 0; } @media print { h2 { break-after: avoid; } li, tr { break-inside: avoid; } /* paper has nothing to unfold */ details::details-content { content-visibility: visible; block-size: auto; } }`;

/** On a sheet of a tune that is for practice. */
export const PRACTICE = 'For practice: figures may be of the simulated bench, and say nothing of a real vehicle.';

/** Under the heading of a sheet that was signed. */
export const signatureWords = ({ issue, by, at, leftOpen }: SheetSignature): string =>
  `Issue ${issue}, signed by ${by} on ${at.slice(0, 10)}${leftOpen === '' ? '.' : `. Left open: ${leftOpen}`}`;

/**
 * The sheet as one page that stands alone: opened from a file on a phone, printed on A4 or Letter, read without a network.
 *
 * @returns an HTML document without script or anything fetched
 */
export function sheetPage(sheet: OwnerSheet): string {
  const { job, vehicle, madeAt, isWhole, isPractice, volumes, leaveAlone, channels, open, signature, origin, responses, readings } = sheet;
  const day = madeAt.slice(0, 10);
  const volume = ({ name, step, of, isAssumed }: OwnerSheet['volumes'][number]): string =>
    step === undefined
      ? `<li><span>${text(name)}</span><b aria-label="not measured">?</b><span class="quiet">not measured: leave it off</span></li>`
      : `<li><span>${text(name)}</span><b>${step}</b><span class="quiet">of ${of}${isAssumed ? ', assumed, not measured' : ''}</span><div class="bar" role="img" aria-label="${step} of ${of}"><i style="width:${Math.round((100 * step) / of)}%"></i></div></li>`;
  const block = (channel: Channel): string =>
    `<section class="channel"><h3>${text(channel.name)}</h3><p class="quiet">${text(channel.drivers)}</p><dl>${CELLS.map(
      ([name, of]) => [name, of(channel)] as const,
    )
      // Nobody reads a row of nothing.
      .filter(([, value]) => value !== '' && value !== NOTHING)
      .map(([name, value]) => `<div><dt>${name}</dt><dd>${text(value)}</dd></div>`)
      .join(
        '',
      )}</dl>${channel.wiring === undefined || channel.wiring.coils.length < 2 ? '' : `<details><summary>Its wires</summary><div class="drawing small">${pictureSvg(wiringPicture(channel.name, channel.wiring), false)}</div></details>`}</section>`;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>${text(job)}: how loud it may be played</title><style>${STYLE}</style></head><body>
<header><h1>${text(job)}</h1><p class="quiet">${text([vehicle, day].filter((part) => part !== '').join(' · '))}</p>${signature === undefined ? '' : `<p class="quiet">${text(signatureWords(signature))}</p>`}${origin === undefined ? '' : `<p class="quiet">${text(origin)}</p>`}</header>
<main>
${isPractice === true ? `<p class="warn"><strong>${PRACTICE}</strong></p>` : ''}
${isWhole ? '' : '<p class="warn"><strong>This tune is not finished.</strong> What is missing is listed at the end. Until then the volumes are not reliable.</p>'}
<h2>Never louder than</h2>
<ul class="volumes">${volumes.map(volume).join('')}</ul>
${volumes.length === 0 ? '' : `<figure class="scan">${scanSvg(scanText(sheet))}<figcaption class="quiet">The same for a phone: scan it.</figcaption></figure>`}
<h2>Leave alone</h2>
<ul>${leaveAlone.map(({ what, why }) => `<li><strong>${text(what)}.</strong> ${text(why)}</li>`).join('')}</ul>
${channels.length === 0 ? '' : `<h2>How it is wired</h2>\n<div class="drawing">${pictureSvg(systemPicture(sheet), false)}</div>`}
<h2>What was set</h2>
${sheet.system.levels.length === 0 ? '' : `<p>Processor: ${text(sheet.system.levels.map(({ name, set }) => `${name} ${set}`).join(', '))}.</p>`}
${channels.map(block).join('')}
${(responses ?? []).length === 0 ? '' : `<h2>Measured response</h2><p class="quiet">Solid: now. Dotted: target. Dashed: before.</p>`}
${(responses ?? []).map((each) => `<figure class="response"><div class="drawing">${pictureSvg(responsePicture(each), false)}</div><figcaption><strong>${text(each.name)}</strong>: ${text(responseWords(each))}.</figcaption></figure>`).join('')}
${open.length === 0 ? '' : `<h2>Still open</h2><ul>${open.map((words) => `<li>${text(words)}</li>`).join('')}</ul>`}
${(readings ?? []).length === 0 ? '' : `<details class="readings"><summary>Supporting readings: ${readings!.length}</summary><table><thead><tr><th>Step</th><th>Read</th><th>When</th><th>With</th></tr></thead><tbody>${readings!.map(({ step, value, at, conditions }) => `<tr><td>${text(step)}</td><td>${text(value)}</td><td>${text(at.slice(0, 16).replace('T', ' '))}</td><td>${text(conditions)}</td></tr>`).join('')}</tbody></table></details>`}
<p class="quiet" style="margin-top:6mm">Loud sound harms hearing for good: at full volume a few minutes are enough. The manuals of the equipment come first.</p>
</main></body></html>
`;
}
