/** What a table that comes with sounds says of one of them. Empty where it says nothing. */
export interface TableFacts {
  readonly title: string
  readonly maker: string
  readonly description: string
  readonly category: string
  readonly words: readonly string[]
  /** Texts that may speak of rights. */
  readonly rights: string
}

type Column = 'file' | 'title' | 'maker' | 'description' | 'category' | 'subcategory' | 'words' | 'rights'

/** Names of columns, without anything but letters; the first that is there counts. */
const COLUMNS: Readonly<Record<Column, readonly string[]>> = {
  file: ['filename', 'file', 'soundfile', 'path', 'filepath'],
  title: ['fxname', 'title', 'tracktitle', 'name'],
  maker: ['designer', 'recordist', 'creator', 'artist', 'author', 'creatorid', 'manufacturer'],
  description: ['description', 'bwdescription', 'desc', 'notes'],
  category: ['category', 'categoryfull', 'catid'],
  subcategory: ['subcategory'],
  words: ['keywords', 'keyword', 'tags'],
  rights: ['licence', 'license', 'copyright', 'rights', 'terms'],
}
const MAX_TEXT = 4000
const MAX_WORDS = 60

/**
 * Reads the table that comes with a pack of sounds, such as one with the columns of the Universal Category System.
 *
 * @param rows The first is the head. @returns Facts by the name of the file, in small letters and without folders; none where no column names files.
 */
export function soundTable(rows: readonly (readonly string[])[]): Map<string, TableFacts> {
  const [head = [], ...body] = rows
  const plain = head.map((name) => name.toLowerCase().replace(/[^a-z]/g, ''))
  const columnOf = (column: Column): number => {
    const name = COLUMNS[column].find((one) => plain.includes(one))
    return name === undefined ? -1 : plain.indexOf(name)
  }
  const facts = new Map<string, TableFacts>()
  const file = columnOf('file')
  if (file < 0) return facts
  const columns = Object.fromEntries(
    (Object.keys(COLUMNS) as Column[]).map((column) => [column, columnOf(column)]),
  ) as Record<Column, number>
  for (const row of body) {
    const cell = (column: Column): string => (row[columns[column]] ?? '').trim().slice(0, MAX_TEXT)
    const name = baseName(cell('file'))
    // The first line of a file counts: a second one is a copy of it, or a mistake.
    if (name === '' || facts.has(name)) continue
    facts.set(name, {
      title: cell('title'),
      maker: cell('maker'),
      description: cell('description'),
      category: cell('category'),
      words: wordsOf(`${cell('words')},${cell('subcategory')}`),
      rights: cell('rights'),
    })
  }
  return facts
}

/** The name of a file without its folders, as tables are asked by it. */
export function baseName(path: string): string {
  return (path.split(/[\\/]/).at(-1) ?? '').trim().toLowerCase()
}

function wordsOf(text: string): string[] {
  const words = text.split(/[,;|]/).map((word) => word.trim().toLowerCase())
  return [...new Set(words.filter(Boolean))].slice(0, MAX_WORDS)
}
