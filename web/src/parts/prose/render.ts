import katex from 'katex'
import MarkdownIt from 'markdown-it'

const markdown = new MarkdownIt({ html: false, linkify: false, typographer: false })
/** Quotes nested deeper than anybody writes: what the renderer would drop is shown as it was typed. */
const TOO_DEEP = /^(?:[ \t]*>){20}/m
const FORMULA = /\$\$([\s\S]+?)\$\$|\$([^$\n]+?)\$/g
/** Larger than any formula of a lesson; beyond it, or deeper, or with more macros, the source is shown. */
const LONGEST_FORMULA = 600
const DEEPEST_FORMULA = 12
const MOST_FORMULAS = 200

/** Markdown with formulas between dollar signs, as safe HTML. What cannot be set as a formula stands there as it was typed. */
export function render(text: string): string {
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
    return markdown.render(marked).replace(/\uE000(\d+)\uE001/g, (_, k: string) => formulas[Number(k)] ?? '')
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
