import { SaxesParser } from 'saxes'
import { ReadFault } from '../read-fault.js'

/** What is told of an XML part as it is read; names come without a prefix. */
export interface XmlEvents {
  open?(name: string, attributes: Readonly<Record<string, string>>): void
  text?(text: string): void
  close?(name: string): void
}

/**
 * A sink that reads an XML part. Nothing outside the part is ever looked up: a document type, which could name such things,
 * is refused, as ECMA-376 part 2 has none.
 *
 * @throws ReadFault for broken XML.
 */
export function xmlSink(part: string, events: XmlEvents): (bytes: Uint8Array, isLast: boolean) => void {
  const parser = new SaxesParser()
  const decoder = new TextDecoder('utf-8', { fatal: true })
  parser.on('doctype', () => {
    throw new ReadFault(`its part ${part} declares a document type, which such files may not; it is not read.`)
  })
  parser.on('error', (error) => {
    throw new ReadFault(`its part ${part} is broken XML: ${error.message.replace(/^[\d:]+\s*/, '').replace(/\.$/, '')}.`)
  })
  parser.on('opentag', ({ name, attributes }) => events.open?.(localName(name), attributes as Record<string, string>))
  parser.on('text', (text) => events.text?.(text))
  parser.on('cdata', (text) => events.text?.(text))
  parser.on('closetag', ({ name }) => events.close?.(localName(name)))
  return (bytes, isLast) => {
    parser.write(decodedPiece(decoder, bytes, isLast, part))
    if (isLast) parser.close()
  }
}

function decodedPiece(decoder: InstanceType<typeof TextDecoder>, bytes: Uint8Array, isLast: boolean, part: string): string {
  try {
    return decoder.decode(bytes, { stream: !isLast })
  } catch {
    throw new ReadFault(`its part ${part} is not UTF-8.`)
  }
}

function localName(name: string): string {
  return name.slice(name.indexOf(':') + 1)
}

/** A text of a spreadsheet, where `_x000D_` stands for the sign of that number (ECMA-376 part 1, ST_Xstring). */
export function unescapedText(text: string): string {
  if (!text.includes('_x')) return text
  return text.replace(/_x([0-9A-Fa-f]{4})_/g, (_, code: string) => String.fromCharCode(Number.parseInt(code, 16)))
}
