import ts from 'typescript'

/** A text that stands in the code instead of in the catalogue. */
export interface TextOutside {
  readonly line: number
  readonly text: string
}

/** Attributes that are read out or shown. */
const SHOWN = new Set(
  'title aria-label aria-description aria-valuetext placeholder alt label words hint about message heading what empty action'.split(
    ' ',
  ),
)
/** Fields that hold what is said. */
const SHOWN_FIELD = /^(word|words|title|label|hint)$/
/** Attributes and fields that the reader never sees. */
const UNSEEN = new Set(
  'className class type id href role key keys kind htmlFor d viewBox aria-keyshortcuts rel target autoComplete transform fill stroke accept points form method src to path icon queryKey dateStyle timeStyle'.split(
    ' ',
  ),
)
/** Names of keys, as the browser or the page tells them. */
const KEY =
  /^(Enter|Escape|Esc|Delete|Backspace|Home|End|Home End|Space|Tab|Page(Up|Down)|Arrow(Up|Down|Left|Right)|Shift|Control|Meta|Alt|Ctrl .*)$/
/** Calls whose arguments are no texts: they name elements, keys, columns. */
const UNREAD_CALL =
  /(^eb|where|whereRef|select|selectFrom|innerJoin|leftJoin|groupBy|prepare|enum|addEventListener|querySelector|querySelectorAll|closest|getItem|setItem|invalidateQueries|matches|createElement|startsWith|endsWith|includes|replace|split|matchAll|test|append|encodeURIComponent|fetch|request)$/

/**
 * Texts of the interface that a file holds itself: what stands between tags, what an attribute says, and strings that read like
 * words of a sentence. Names of classes, addresses, keys and what is only compared are no texts.
 *
 * @param fileName Ends in .ts or .tsx; says how the source is read.
 */
export function textsOutside(source: string, fileName: string): TextOutside[] {
  const kind = fileName.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS
  const file = ts.createSourceFile(fileName, source, ts.ScriptTarget.Latest, true, kind)
  const found: TextOutside[] = []
  const add = (node: ts.Node, text: string): void => {
    const line = file.getLineAndCharacterOfPosition(node.getStart()).line + 1
    found.push({ line, text: text.replace(/\s+/g, ' ').trim() })
  }
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isTypeNode(node)) return
    if (ts.isJsxText(node)) {
      if (hasWord(node.text)) add(node, node.text)
      return
    }
    if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      if (isShown(node) ? hasWord(node.text) && !isName(node.text) : isSentence(node.text) && !isUnread(node))
        add(node, node.text)
      return
    }
    if (ts.isTemplateExpression(node)) {
      const text = [node.head.text, ...node.templateSpans.map(({ literal }) => literal.text)].join('…')
      if ((isShown(node) ? /\p{L}{2}/u.test(text.replaceAll('…', ' ')) : isSentence(text)) && !isUnread(node))
        if (!/^[./#?]|https?:|[=&?/]…|^[a-z]+-…|\(…|…px|translate/.test(text)) add(node, text)
    }
    ts.forEachChild(node, visit)
  }
  visit(file)
  return found
}

function hasWord(text: string): boolean {
  return /\p{L}{2}/u.test(text) && !KEY.test(text.trim())
}

/** What is one word in lower case with hyphens, or a name such as "btn-sm": for the program, not for the reader. */
function isName(text: string): boolean {
  return /^[a-z]+(-[a-z0-9]+)+$/.test(text)
}

function isSentence(text: string): boolean {
  if (!hasWord(text) || /\b(flex|grid|btn|rounded|minmax\(|var\(|translate)/.test(text)) return false
  const opens =
    /^[\s,;·“(]*[A-Z][a-z’]/.test(text) && !/^[A-Z][a-z]+[A-Z]/.test(text) && !/^[A-Z][A-Za-z-]+-[A-Z]/.test(text)
  const goesOn = /[a-z’,;.%)”] [a-z“(]/.test(text) && !/(^|\s)[a-z0-9]+[-:[\]/_=][\w[(]/.test(text)
  return opens || goesOn
}

/** Whether it is what a tag or a shown attribute comes to, through branches only. */
function isShown(node: ts.Node): boolean {
  let child = node
  let parent = node.parent
  while (
    ts.isParenthesizedExpression(parent) ||
    (ts.isConditionalExpression(parent) && parent.condition !== child) ||
    (ts.isBinaryExpression(parent) && /^(&&|\|\||\?\?)$/.test(parent.operatorToken.getText()) && parent.right === child)
  ) {
    child = parent
    parent = parent.parent
  }
  if (ts.isJsxAttribute(parent)) return SHOWN.has(parent.name.getText())
  if (ts.isPropertyAssignment(parent) && parent.initializer === child) return SHOWN_FIELD.test(parent.name.getText())
  if (!ts.isJsxExpression(parent)) return false
  return ts.isJsxAttribute(parent.parent) ? SHOWN.has(parent.parent.name.getText()) : true
}

function isUnread(node: ts.Node): boolean {
  const { parent } = node
  if (ts.isBinaryExpression(parent) && /^[!=]==?$/.test(parent.operatorToken.getText())) return true
  if (ts.isTaggedTemplateExpression(parent)) return true
  if (ts.isCaseClause(parent) || ts.isElementAccessExpression(parent) || ts.isLiteralTypeNode(parent)) return true
  if (ts.isPropertyAssignment(parent) && parent.name === node) return true
  for (let child = node, at = parent; at && !ts.isStatement(at) && !ts.isFunctionLike(at); child = at, at = at.parent) {
    if (ts.isJsxAttribute(at)) return UNSEEN.has(at.name.getText())
    if (ts.isPropertyAssignment(at) && UNSEEN.has(at.name.getText())) return true
    if (ts.isCallExpression(at) && at.expression !== child && UNREAD_CALL.test(at.expression.getText())) return true
    // What a programmer reads.
    if (ts.isNewExpression(at) && /^(Type|Range)?Error$/.test(at.expression.getText())) return true
  }
  return false
}
