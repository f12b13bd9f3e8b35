import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import {
  NOTHING,
  PRACTICE,
  responsePicture,
  responseWords,
  scanCode,
  scanText,
  signatureWords,
  systemPicture,
  wiringPicture,
  type OwnerSheet,
  type Picture,
} from '@yield/sheet';
import PDFDocument from 'pdfkit';
import { openTypeOf } from './openTypeOf.ts';

/** A whole sheet, or what fits a glovebox. */
export type Paper = 'a4' | 'letter' | 'card';

const SIZES: Readonly<Record<Paper, { size: [number, number]; margin: number }>> = {
  a4: { size: [595.28, 841.89], margin: 40 },
  letter: { size: [612, 792], margin: 40 },
  // A6: folded once from A5, and the size of a vehicle's own booklets.
  card: { size: [297.64, 419.53], margin: 22 },
};

const INK = '#161513';
const QUIET = '#57534a';
const LINE = '#bdb6a6';
const BAR = '#1f4190';
const WARN = '#a35c00';

const resolve = createRequire(import.meta.url).resolve;
const font = (weight: string): Buffer => openTypeOf(readFileSync(resolve(`@ibm/plex-sans/fonts/complete/woff/IBMPlexSans-${weight}.woff`)));
let fonts: { plain: Buffer; strong: Buffer } | undefined;

type Doc = PDFKit.PDFDocument;

/** The owner's sheet as a tagged PDF with its fonts inside: text that can be searched, headings, and words for its picture. */
export function sheetPdf(sheet: OwnerSheet, paper: Paper): Promise<Buffer> {
  const { size, margin } = SIZES[paper];
  const doc = new PDFDocument({
    size,
    margins: { top: margin, bottom: margin, left: margin, right: margin },
    pdfVersion: '1.7',
    tagged: true,
    lang: 'en',
    displayTitle: true,
    info: { Title: `${sheet.job}: how loud it may be played`, CreationDate: new Date(sheet.madeAt) },
  });
  fonts ??= { plain: font('Regular'), strong: font('SemiBold') };
  doc.registerFont('plain', fonts.plain);
  doc.registerFont('strong', fonts.strong);
  const done = new Promise<Buffer>((resolved, failed) => {
    const chunks: Buffer[] = [];
    doc.on('data', (chunk: Buffer) => chunks.push(chunk));
    doc.on('end', () => resolved(Buffer.concat(chunks)));
    doc.on('error', failed);
  });
  const isCard = paper === 'card';
  const tags = new Tags(doc);
  heading(doc, tags, sheet, isCard);
  volumes(doc, tags, sheet, isCard);
  code(doc, tags, sheet, isCard);
  leaveAlone(doc, tags, sheet, isCard);
  if (!isCard) {
    if (sheet.channels.length > 0) {
      title(doc, tags, 'How it is wired');
      picture(doc, tags, systemPicture(sheet), MAX_SYSTEM);
    }
    channels(doc, tags, sheet);
    if ((sheet.responses ?? []).length > 0) responses(doc, tags, sheet.responses!);
    if (sheet.open.length > 0) list(doc, tags, 'Still open', sheet.open);
    if ((sheet.readings ?? []).length > 0) appendix(doc, tags, sheet);
  }
  tags.paragraph(() =>
    doc
      .moveDown(0.8)
      .font('plain')
      .fontSize(isCard ? 7 : 9)
      .fillColor(QUIET)
      .text(
        'Loud sound harms hearing for good: at full volume a few minutes are enough. The manuals of the equipment come first.',
        doc.page.margins.left,
        doc.y,
      ),
  );
  tags.end();
  doc.end();
  return done;
}

/** What a reader for the blind goes by. */
class Tags {
  private readonly root: PDFKit.PDFStructureElement;
  private readonly doc: Doc;

  constructor(doc: Doc) {
    this.doc = doc;
    this.root = doc.struct('Document');
    doc.addStructure(this.root);
  }

  heading = (level: 1 | 2, draw: () => unknown): void => this.add(`H${level}`, draw);
  paragraph = (draw: () => unknown): void => this.add('P', draw);

  figure(alt: string, draw: () => unknown): void {
    this.root.add(this.doc.struct('Figure', { alt }, () => void draw()));
  }

  end(): void {
    this.root.end();
  }

  private add(type: string, draw: () => unknown): void {
    this.root.add(this.doc.struct(type, {}, () => void draw()));
  }
}

const widthOf = ({ page }: Doc): number => page.width - page.margins.left - page.margins.right;

/** A new page where what follows would be torn apart. */
function keepTogether(doc: Doc, height: number): void {
  if (doc.y + height > doc.page.height - doc.page.margins.bottom) doc.addPage();
}

function heading(
  doc: Doc,
  tags: Tags,
  { job, vehicle, madeAt, isWhole, isPractice, signature, origin }: OwnerSheet,
  isCard: boolean,
): void {
  tags.heading(1, () =>
    doc
      .font('strong')
      .fontSize(isCard ? 13 : 18)
      .fillColor(INK)
      .text(job, { width: widthOf(doc) }),
  );
  tags.paragraph(() =>
    doc
      .font('plain')
      .fontSize(isCard ? 8 : 10)
      .fillColor(QUIET)
      .text([vehicle, madeAt.slice(0, 10)].filter((part) => part !== '').join(' · '), { width: widthOf(doc) }),
  );
  if (signature !== undefined)
    tags.paragraph(() => doc.fontSize(isCard ? 7.5 : 10).text(signatureWords(signature), { width: widthOf(doc) }));
  if (origin !== undefined) tags.paragraph(() => doc.fontSize(isCard ? 7.5 : 10).text(origin, { width: widthOf(doc) }));
  doc.moveDown(0.4);
  if (isPractice === true)
    tags.paragraph(() =>
      doc
        .font('strong')
        .fontSize(isCard ? 8 : 10)
        .fillColor(WARN)
        .text(PRACTICE, { width: widthOf(doc) }),
    );
  if (isWhole) return;
  tags.paragraph(() =>
    doc
      .font('strong')
      .fontSize(isCard ? 8 : 10)
      .fillColor(WARN)
      .text(
        `This tune is not finished. What is missing is listed ${isCard ? 'on its sheet' : 'at the end'}. Until then the volumes are not reliable.`,
        {
          width: widthOf(doc),
        },
      ),
  );
}

function title(doc: Doc, tags: Tags, words: string, isCard = false): void {
  keepTogether(doc, 60);
  tags.heading(2, () =>
    doc
      .moveDown(0.7)
      .font('strong')
      .fontSize(isCard ? 10 : 13)
      .fillColor(INK)
      .text(words, doc.page.margins.left, doc.y, { width: widthOf(doc) }),
  );
  doc.moveDown(0.25);
}

/** The picture that is understood at a glance: one figure a setting, as large as the page lets it, over a bar of the whole scale. */
function volumes(doc: Doc, tags: Tags, { volumes: all }: OwnerSheet, isCard: boolean): void {
  title(doc, tags, 'Never louder than', isCard);
  const [boxWidth, boxHeight] = isCard ? [122, 66] : [164, 92];
  const gap = isCard ? 8 : 12;
  const across = Math.max(1, Math.floor((widthOf(doc) + gap) / (boxWidth + gap)));
  for (let first = 0; first < all.length; first += across) {
    keepTogether(doc, boxHeight + gap);
    const top = doc.y;
    all.slice(first, first + across).forEach((volume, k) => {
      const left = doc.page.margins.left + k * (boxWidth + gap);
      const { name, step, of, isAssumed } = volume;
      const words = step === undefined ? 'not measured: leave it off' : `of ${of}${isAssumed ? ', assumed' : ''}`;
      tags.figure(step === undefined ? `${name}: not measured, leave it off` : `${name}: never louder than ${step} of ${of}`, () => {
        const pad = isCard ? 7 : 10;
        doc.lineWidth(0.8).strokeColor(LINE).roundedRect(left, top, boxWidth, boxHeight, 5).stroke();
        doc
          .font('plain')
          .fontSize(isCard ? 8 : 10)
          .fillColor(INK)
          .text(name, left + pad, top + pad - 2, { width: boxWidth - 2 * pad, height: isCard ? 10 : 14, ellipsis: true, lineBreak: true });
        doc
          .font('strong')
          .fontSize(isCard ? 26 : 40)
          .text(step === undefined ? '?' : String(step), left + pad, top + (isCard ? 16 : 20), { lineBreak: false });
        const bar = step === undefined ? 0 : (boxWidth - 2 * pad) * Math.min(1, step / of);
        const barTop = top + boxHeight - (isCard ? 9 : 13);
        doc
          .font('plain')
          .fontSize(isCard ? 7 : 9)
          .fillColor(QUIET)
          .text(words, left + pad + (isCard ? 40 : 62), top + (isCard ? 31 : 44), { width: boxWidth - 2 * pad - (isCard ? 40 : 62) });
        doc.roundedRect(left + pad, barTop, boxWidth - 2 * pad, 4, 2).fill('#e6e1d6');
        if (bar > 0) doc.roundedRect(left + pad, barTop, bar, 4, 2).fill(BAR);
      });
    });
    doc.x = doc.page.margins.left;
    doc.y = top + boxHeight + gap;
  }
}

/** The safe volumes once more, for a phone. */
function code(doc: Doc, tags: Tags, sheet: OwnerSheet, isCard: boolean): void {
  if (sheet.volumes.length === 0) return;
  const modules = scanCode(scanText(sheet));
  const size = isCard ? 58 : 68;
  keepTogether(doc, size);
  const { left } = doc.page.margins;
  const top = doc.y;
  const module = size / modules.length;
  tags.figure('Code to scan: the highest safe volumes as text', () => {
    modules.forEach((row, y) =>
      row.forEach((isDark, x) => {
        if (isDark) doc.rect(left + x * module, top + y * module, module, module);
      }),
    );
    doc.fill(INK);
  });
  doc.y = top + size + 4;
}

function leaveAlone(doc: Doc, tags: Tags, { leaveAlone: all }: OwnerSheet, isCard: boolean): void {
  title(doc, tags, 'Leave alone', isCard);
  for (const { what, why } of all) {
    keepTogether(doc, isCard ? 24 : 30);
    tags.paragraph(() =>
      doc
        .font('strong')
        .fontSize(isCard ? 7.5 : 10)
        .fillColor(INK)
        .text(`${what}. `, doc.page.margins.left, doc.y, { width: widthOf(doc), continued: true })
        .font('plain')
        .text(why, { paragraphGap: 3 }),
    );
  }
}

function list(doc: Doc, tags: Tags, words: string, all: readonly string[]): void {
  title(doc, tags, words);
  for (const each of all) {
    keepTogether(doc, 26);
    tags.paragraph(() =>
      doc
        .font('plain')
        .fontSize(10)
        .fillColor(INK)
        .text(`– ${each}`, doc.page.margins.left, doc.y, { width: widthOf(doc), paragraphGap: 2 }),
    );
  }
}

const MAX_SYSTEM = 330;
const MAX_WIRING = 230;

/** A picture as wide as the page, or as high as it may be; where it does not fit below it begins a page. */
function picture(doc: Doc, tags: Tags, { width, height, words, shapes }: Picture, mostHeight: number, mostScale = 1): void {
  const scale = Math.min(mostScale, widthOf(doc) / width, mostHeight / height);
  keepTogether(doc, scale * height + 8);
  const [left, top] = [doc.page.margins.left, doc.y];
  tags.figure(words, () => {
    doc.save().translate(left, top).scale(scale);
    for (const shape of shapes) {
      if (shape.kind === 'path') {
        doc.lineWidth(shape.width).strokeColor(shape.stroke);
        if (shape.dash === undefined) doc.undash();
        else doc.dash(shape.dash[0]!, { space: shape.dash[1] ?? shape.dash[0]! });
        doc.path(shape.d).stroke().undash();
      } else if (shape.kind === 'box') {
        const radius = Math.min(shape.radius, shape.width / 2, shape.height / 2);
        doc.lineWidth(1).roundedRect(shape.x, shape.y, shape.width, shape.height, radius).fillAndStroke(shape.fill, shape.stroke);
      } else {
        doc
          .font(shape.isStrong === true ? 'strong' : 'plain')
          .fontSize(shape.size)
          .fillColor(shape.color);
        const share = shape.anchor === 'end' ? 1 : shape.anchor === 'middle' ? 0.5 : 0;
        // Its place is the line that letters stand on.
        doc.text(shape.words, shape.x - share * doc.widthOfString(shape.words), shape.y, { lineBreak: false, baseline: 'alphabetic' });
      }
    }
    doc.restore();
  });
  doc.x = left;
  doc.y = top + scale * height + 8;
}

function responses(doc: Doc, tags: Tags, all: NonNullable<OwnerSheet['responses']>): void {
  title(doc, tags, 'Measured response');
  const say = (words: string): void =>
    tags.paragraph(() =>
      doc
        .font('plain')
        .fontSize(9.5)
        .fillColor(QUIET)
        .text(words, doc.page.margins.left, doc.y, { width: widthOf(doc), paragraphGap: 3 }),
    );
  say('Solid: now. Dotted: target. Dashed: before.');
  for (const each of all) {
    keepTogether(doc, 200);
    say(`${each.name}: ${responseWords(each)}.`);
    picture(doc, tags, responsePicture(each), 180, 0.85);
  }
}

/** Every figure that the sheet rests on, a line each. */
function appendix(doc: Doc, tags: Tags, { readings = [] }: OwnerSheet): void {
  doc.addPage();
  title(doc, tags, `Supporting readings: ${readings.length}`);
  for (const { step, value, at, conditions } of readings) {
    keepTogether(doc, 24);
    tags.paragraph(() =>
      doc
        .font('strong')
        .fontSize(8.5)
        .fillColor(INK)
        .text(value, doc.page.margins.left, doc.y, { width: widthOf(doc), continued: true })
        .font('plain')
        .text(`  ${step}`, { continued: true })
        .fillColor(QUIET)
        .text(` · ${at.slice(0, 16).replace('T', ' ')} · ${conditions}`, { paragraphGap: 1 }),
    );
  }
}

/** A block for each channel: a table of eight columns would be too narrow to be read. */
function channels(doc: Doc, tags: Tags, sheet: OwnerSheet): void {
  title(doc, tags, 'What was set');
  const { source, settings, processor, levels } = sheet.system;
  const way = [
    `Source: ${source}${settings === '' ? '' : ` (${settings})`}`,
    ...(processor === '' ? [] : [`processor: ${processor}`]),
    ...levels.map(({ name, set }) => `${name} ${set}`),
  ];
  tags.paragraph(() =>
    doc
      .font('plain')
      .fontSize(9.5)
      .fillColor(INK)
      .text(way.join(' · '), doc.page.margins.left, doc.y, { width: widthOf(doc), paragraphGap: 5 }),
  );
  for (const channel of sheet.channels) {
    const { name, amplifier, terminals, load, drivers, set, delivered, before, clean, filters, polarity, delay, equaliser, wiring } =
      channel;
    keepTogether(doc, 62);
    tags.paragraph(() =>
      doc
        .font('strong')
        .fontSize(10.5)
        .fillColor(INK)
        .text(name, doc.page.margins.left, doc.y, { width: widthOf(doc), continued: true })
        .font('plain')
        .fillColor(QUIET)
        .text(`  ${drivers}; ${amplifier}, ${terminals}; ${load}`),
    );
    tags.paragraph(() =>
      doc
        .font('plain')
        .fontSize(9.5)
        .fillColor(INK)
        .text(
          [
            set === NOTHING ? 'gain not set' : `Set to ${set}`,
            ...(delivered === NOTHING ? [] : [`delivers ${delivered}${before === '' ? '' : `, before ${before}`}`]),
            clean,
            `filters: ${filters}`,
            `polarity ${polarity}`,
            ...(delay === NOTHING ? [] : [`delay ${delay}`]),
            ...(equaliser === '' ? [] : [`equaliser: ${equaliser}`]),
          ].join(' · '),
          doc.page.margins.left,
          doc.y,
          { width: widthOf(doc), paragraphGap: 5 },
        ),
    );
    // One coil on two wires is told by its terminals.
    if (wiring !== undefined && wiring.coils.length > 1) picture(doc, tags, wiringPicture(name, wiring), MAX_WIRING, 0.6);
  }
}
