import katex from 'katex'
import MarkdownIt from 'markdown-it'
import type { Finder, Piece, Term } from '@/parts/terms/glossary'

const markdown = new MarkdownIt({ html: false, linkify: false, typographer: false })
/** Words of the glossary get a mark that tells which term it is, each once a text. */
markdown.renderer.rules.text = (tokens, at, _options, env) => {
  const { find, met } = (env ?? {}) as Explaining
  const text = tokens[at]?.content ?? ''
  const word = (piece: Piece) => {
    const html = markdown.utils.escapeHtml(piece.text)
    return piece.term
      ? `<span class="term" tabindex="0" data-term="${markdown.utils.escapeHtml(piece.term.term)}">${html}</span>`
      : html
  }
  return find ? find(text, met).map(word).join('') : markdown.utils.escapeHtml(text)
}

interface Explaining {
  find?: Finder
  met?: Set<Term>
}
/** Quotes nested deeper than anybody writes: what the renderer would drop is shown as it was typed. */
const TOO_DEEP = /^(?:[ \t]*>){20}/m
const FORMULA = /\$\$([\s\S]+?)\$\$|\$([^$\n]+?)\$/g
/** Larger than any formula of a lesson; beyond it, or deeper, or with more macros, the source is shown. */
const LONGEST_FORMULA = 600
const DEEPEST_FORMULA = 12
const MOST_FORMULAS = 200

/** Markdown with formulas between dollar signs, as safe HTML. What cannot be set as a formula stands there as it was typed;
 * words that `find` finds are marked. */
export function render(text: string, find?: Finder): string {
  if (TOO_DEEP.test(text)) return asTyped(text)
  const formulas: string[] = []
  // The two marks around a formula's number: a text that holds them itself loses them.
  const plain = text.replace(/[\uE000\uE001]/g, '')
  const marked = plain.replace(FORMULA, (source, block: string | undefined, inline: string | undefined) => {
    const html = formulas.length < MOST_FORMULAS ? formula(block ?? inline ?? '', block !== undefined) : undefined
    formulas.push(html ?? `<code class="bad-formula">${markdown.utils.escapeHtml(source)}</code>`)
    return `\uE000${formulas.length - 1}\uE001`
  })
  try {
    const env: Explaining = find ? { find, met: new Set() } : {}
    return markdown
      .render(marked, { ...env })
      .replace(/\uE000(\d+)\uE001/g, (_, k: string) => formulas[Number(k)] ?? '')
  } catch {
    return asTyped(text)
  }
}

function asTyped(text: string): string {
  return `<pre>${markdown.utils.escapeHtml(text)}</pre>`
}

/** A formula as HTML; undefined when it is too large, too deep or wrong. */
function formula(source: string, displayMode: boolean): string | undefined {
  if (source.length > LONGEST_FORMULA || depth(source) > DEEPEST_FORMULA) return undefined
  try {
    return katex.renderToString(source, { displayMode, throwOnError: true, trust: false, maxExpand: 50, maxSize: 20 })
  } catch {
    return undefined
  }
}

/** How deep braces are nested. */
function depth(source: string): number {
  let now = 0
  let deepest = 0
  for (const sign of source) {
    if (sign === '{') deepest = Math.max(deepest, (now += 1))
    if (sign === '}') now -= 1
  }
  return deepest
}
