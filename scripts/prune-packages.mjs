// Takes out of the installed packages what nothing here ever loads: it is half of the room that they take. Run after each installation.
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

const packages = path.join(path.dirname(fileURLToPath(import.meta.url)), '..', 'node_modules')

/** Files of single packages that are never loaded; paths from the folder of the packages. */
const UNUSED = [
  // Other builds of the voice model's runtime than the one for threads without a graphics card, which is loaded.
  /^onnxruntime-web\/dist\/ort-wasm-simd-threaded\.(asyncify|jsep|jspi)\./,
  /^onnxruntime-web\/dist\/ort(\.(all|webgl|webgpu|jspi|bundle))?(\.bundle)?(\.min)?\.(js|mjs)$/,
  // Programs for the command line; the compiler of the search kernel uses the library beside them.
  /^binaryen\/bin\/(?!package\.json)/,
  // The database driver for other systems than this one.
  new RegExp(`^@photostructure/sqlite/prebuilds/(?!${process.platform}-${process.arch}/)`),
  // Makes pictures smaller for pages that are made of documents; there are none.
  /^(@img|sharp)\/.*\.(node|so[.\d]*)$/,
  // Fonts that are not printed with.
  /^dejavu-fonts-ttf\/(ttf\/(?!DejaVuSans(-Bold)?\.ttf)|status\.txt)/,
  // The styles are read by the build for this machine.
  /^@tailwindcss\/oxide-wasm32-wasi\//,
  // Packages in the form that only bundlers read.
  /^(vscode-(css|html)-languageservice\/lib\/esm|yaml-language-server\/lib)\//,
  // Packages in the form that only `require` reads.
  /^kysely\/dist\/cjs\//,
  /^(react-(aria|stately|aria-components)|@internationalized\/[\w-]+)\/dist\/.*\.c?js$/,
  /^react-(aria|aria-components)\/i18n\/[\w-]+\.js$/,
  /^@swc\/helpers\/cjs\//,
  /^zod\/.*\.d\.cts$/,
  // For other machines than Node.js and the browser, and for measuring.
  /^react-dom\/cjs\/react-dom-(profiling|server\.bun)\./,
  /^web-streams-polyfill\/dist\/(?!ponyfill\.es2018\.js$)/,
  // For browsers, in one file.
  /^mediabunny\/dist\/bundles\/(?!mediabunny\.(node\.)?cjs$)/,
  // For bundlers of long ago.
  /^@tanstack\/[\w-]+\/build\/legacy\//,
  /^daisyui\/daisyui\.css$/,
  // Other voice models than the one that listens, and what binds them into pages.
  /^@ricky0123\/vad-web\/dist\/(silero_vad_v\d\.onnx|bundle\.)/,
  // Forms for browsers of what runs on the server or in tests.
  /^(pdfkit\/js\/pdfkit\.(browser|standalone|old)\b|jsonld\/dist\/)/,
  // What the test of accessibility says in other languages.
  /^axe-core\/locales\//,
  // Colours for pages that are made of documents, and what formats other files than ours; nothing asks for them.
  /^@shikijs\/(langs|themes)\/dist\//,
  /^prettier\/plugins\//,
  // Texts of licences are read one by one.
  /^spdx-license-list\/spdx-full\.json$/,
  // Messages of the compiler in other languages, and what only an editor asks it.
  /^typescript\/lib\/[a-z]{2}(-[a-z]{2})?\//,
  // Types are checked by the compiler for this machine; the other one is for what reads types by its library.
  /^typescript\/lib\/_tsc\.js$/,
  /^typescript-native\/(dist|vendor)\//,
  // Pages on which a person looks at a run of the browser tests.
  /^playwright-core\/lib\/vite\//,
  // The same icons under other names.
  /^lucide-react\/(dist\/lucide-react\.(prefixed|suffixed)\.d\.ts$|dynamic)/,
  // What marks code in pages that are made of documents.
  /^prismjs\/(plugins|themes)\//,
  // What packages were made from.
  /^(zod|mediabunny|node-taglib-sharp|@tanstack\/[\w-]+|@photostructure\/sqlite)\/src\//,
  // Builds of an encoder that is loaded in one.
  /^libflacjs\/(doc|example|src|tools|types-compat)\//,
  /^libflacjs\/dist\/libflac\.dev\./,
]
/** What helps to look into a package, and is loaded by none. */
const FOR_READERS = /(\.map|\.(md|markdown)|\.tsbuildinfo)$/i

/** Whether a file is never loaded. @param name Path from the folder of the packages, with "/" between. */
export function isUnused(name) {
  return UNUSED.some((pattern) => pattern.test(name)) || FOR_READERS.test(name)
}

/** Removes what is never loaded. @returns How many bytes were freed. */
export function prunePackages(folder = packages) {
  let freed = 0
  for (const entry of fs.readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue
    const file = path.join(entry.parentPath ?? entry.path, entry.name)
    if (!isUnused(path.relative(folder, file).split(path.sep).join('/'))) continue
    freed += fs.statSync(file).size
    fs.rmSync(file)
  }
  return freed
}

if (process.argv[1] === fileURLToPath(import.meta.url)) prunePackages()
