import { createRequire } from 'node:module'
import { escapedMarkup } from '../../core/formats/markup'
import { DEFAULT_FRAME_RATE, frameAt, mayDropFrames, rateName, timecodeOf } from '../../core/formats/timecode'
import { cutLengthS } from '../../core/moments'
import { visibleText } from '../../core/visible-text'
import { moments as messages } from '../../messages/server/moments'
import type { Services } from '../context'
import { readStripPicture } from '../cuts/cut-files'
import { getVideoRow } from '../rows/video-rows'
import { getMoments } from './moments'

/** One line of the list. */
export interface PrintedMoment {
  readonly time: string
  readonly words: string
  /** "hit, must". */
  readonly about: string
  readonly note: string
  readonly sound: string
  /** JPEG of the picture there, or null. */
  readonly jpeg: Buffer | null
}

export interface PrintedMoments {
  readonly title: string
  /** "24 frames a second, 44.0 s". */
  readonly about: string
  readonly rows: readonly PrintedMoment[]
}

/** More pictures than these make a file that nobody can open. */
const PICTURES_MAX = 500

/** The moments of a video with picture, time, words and chosen sound. @throws {DomainError} not-found. */
export async function loadPrintedMoments(
  services: Pick<Services, 'db' | 'store'>,
  videoId: number,
): Promise<PrintedMoments> {
  const { title } = await getVideoRow(services.db, videoId)
  const { document, cut, soundTitles } = await getMoments(services, videoId)
  const rate = cut?.picture?.frameRate ?? DEFAULT_FRAME_RATE
  const code = (timeS: number): string => timecodeOf(frameAt(timeS, rate), rate, mayDropFrames(rate))
  const strip = cut?.picture?.strip ?? []
  const rows: PrintedMoment[] = []
  for (const [index, moment] of document.moments.entries()) {
    const { atS, endS, words, kind, weight, note, soundId, cutOutFromS } = moment
    const pictureAt = strip.reduce((best, { timeS }, at) => (timeS <= atS + 0.02 ? at : best), 0)
    const hasPicture = cut !== null && strip.length > 0 && index < PICTURES_MAX
    rows.push({
      time: endS === null ? code(atS) : `${code(atS)} to ${code(endS)}`,
      words: visibleText(words) || messages.noWordsYet,
      about: [kind, weight, ...(cutOutFromS === null ? [] : [messages.wasCutOut])].join(', '),
      note: visibleText(note),
      sound: soundId === null ? '' : visibleText(soundTitles[String(soundId)] ?? messages.soundThatNotHereAny),
      jpeg: hasPicture ? Buffer.from(await readStripPicture(services, cut.id, pictureAt)) : null,
    })
  }
  const about = cut
    ? messages.framesASecondS(cut.fileName, rateName(rate), cutLengthS(cut).toFixed(1))
    : messages.noCutYet
  return { title, about, rows }
}

function escaped(text: string): string {
  return escapedMarkup(text).replace(/"/g, '&quot;')
}

/** The list as one HTML file that needs nothing else. */
export function momentsHtml({ title, about, rows }: PrintedMoments): string {
  const lines = rows.map(
    (row) => `<tr>
<td>${row.jpeg ? `<img alt="" src="data:image/jpeg;base64,${row.jpeg.toString('base64')}">` : ''}</td>
<td class="time">${row.time}</td>
<td><b>${escaped(row.words)}</b><br>${escaped(row.about)}${row.note ? `<br><i>${escaped(row.note)}</i>` : ''}</td>
<td>${escaped(row.sound)}</td>
</tr>`,
  )
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}: moments</title>
<style>
body { font: 14px/1.4 sans-serif; margin: 2rem; color: #241d18; }
table { border-collapse: collapse; width: 100%; }
td, th { border-top: 1px solid #bbb; padding: 6px 10px 6px 0; text-align: left; vertical-align: top; }
img { display: block; height: 54px; }
.time { font-variant-numeric: tabular-nums; white-space: nowrap; }
tr { break-inside: avoid; }
</style></head>
<body><h1>${escaped(title)}</h1><p>${escaped(about)}. ${rows.length} moments.</p>
<table><thead><tr><th>Picture</th><th>Time</th><th>Moment</th><th>Sound</th></tr></thead><tbody>
${lines.join('\n')}
</tbody></table></body></html>
`
}

const MARGIN = 42
const ROW_PT = 52
const PICTURE_PT = 40
/** Where the columns begin, pt from the left edge. */
const COLUMN = { picture: MARGIN, time: 124, words: 240, sound: 430 } as const

/** Fonts with Latin, Greek, Cyrillic, Armenian and Georgian letters. */
const FONTS = { plain: 'DejaVuSans.ttf', bold: 'DejaVuSans-Bold.ttf' } as const

function fontFile(name: keyof typeof FONTS): string {
  return createRequire(import.meta.url).resolve(`dejavu-fonts-ttf/ttf/${FONTS[name]}`)
}

/** The list as PDF, A4. Letters that its fonts have not are shown as "?". */
export async function momentsPdf({ title, about, rows }: PrintedMoments): Promise<Buffer> {
  // Large, and seldom asked for.
  const { default: PDFDocument } = await import('pdfkit')
  const pdf = new PDFDocument({ size: 'A4', margin: MARGIN, info: { Title: `${printable(title)}: moments` } })
  const pieces: Buffer[] = []
  pdf.on('data', (piece: Buffer) => pieces.push(piece))
  const done = new Promise<Buffer>((resolve, reject) => {
    pdf.on('end', () => resolve(Buffer.concat(pieces)))
    pdf.on('error', reject)
  })
  pdf.registerFont('plain', fontFile('plain'))
  pdf.registerFont('bold', fontFile('bold'))
  pdf.font('bold').fontSize(16).text(printable(title))
  pdf
    .font('plain')
    .fontSize(9)
    .text(printable(`${about}. ${rows.length} moments.`))
  let y = pdf.y + 14
  for (const row of rows) {
    if (y + ROW_PT > pdf.page.height - MARGIN) {
      pdf.addPage()
      y = MARGIN
    }
    pdf
      .moveTo(MARGIN, y)
      .lineTo(pdf.page.width - MARGIN, y)
      .lineWidth(0.5)
      .strokeColor('#bbbbbb')
      .stroke()
    if (row.jpeg) pdf.image(row.jpeg, COLUMN.picture, y + 5, { fit: [76, PICTURE_PT] })
    const cell = (text: string, x: number, width: number, at = y + 6, height = 12): void => {
      pdf.text(printable(text), x, at, { width, height, ellipsis: true, lineBreak: true })
    }
    pdf.font('plain').fontSize(8)
    cell(row.time.replace(' to ', '\n'), COLUMN.time, 110, y + 6, 24)
    pdf.font('bold')
    cell(row.words, COLUMN.words, 180)
    pdf.font('plain')
    cell(row.about, COLUMN.words, 180, y + 19)
    cell(row.note, COLUMN.words, 180, y + 31)
    cell(row.sound, COLUMN.sound, 120, y + 6, 36)
    y += ROW_PT
  }
  pdf.end()
  return done
}

const NO_LETTER =
  /[^\n\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}\p{Script=Armenian}\p{Script=Georgian}\p{Script=Common}\p{Script=Inherited}]|(?![0-9#*])\p{Emoji_Presentation}/gu

/** Text in the letters that the fonts have. */
export function printable(text: string): string {
  return text.replace(NO_LETTER, '?')
}
