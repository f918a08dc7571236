import Markdown from 'react-markdown'

// The page has a heading of its own, and panels have theirs: those of a text stand below.
const BELOW = { h1: 'h2', h2: 'h3', h3: 'h4' } as const

/** Markdown as prose: no HTML of its own, no pictures from elsewhere, links that are links. */
export default function Prose({ text }: { text: string }) {
  return (
    <Markdown disallowedElements={['img']} skipHtml components={BELOW}>
      {text}
    </Markdown>
  )
}
