import katex from 'katex'
import MarkdownIt from 'markdown-it'

const markdown = new MarkdownIt({ html: false, linkify: false, typographer: false })
const FORMULA = /\$\$([\s\S]+?)\$\$|\$([^$\n]+?)\$/g

/** Markdown with formulas between dollar signs, as safe HTML. */
export function render(text: string): string {
  const formulas: string[] = []
  const marked = text.replace(FORMULA, (_, block: string | undefined, inline: string | undefined) => {
    const html = katex.renderToString(block ?? inline ?? '', { displayMode: block !== undefined, throwOnError: false })
    formulas.push(html)
    return `\uE000${formulas.length - 1}\uE001`
  })
  return markdown.render(marked).replace(/\uE000(\d+)\uE001/g, (_, k: string) => formulas[Number(k)] ?? '')
}
