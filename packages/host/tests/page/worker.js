// A workbook in a Web Worker: the first message says what is in it, those after it are for its host.
import { BookHost, heldWorkbook, serveWorker } from '@mellow-abacus/host'
import { Workbook } from 'mellow-abacus'

self.onmessage = ({ data: { operations, surroundings, control } }) => {
  const host = new BookHost(heldWorkbook(({ keep }) => new Workbook({ ...surroundings, keep })))
  host.held.reader({ role: 'own', author: 'Olga' }).apply(operations)
  serveWorker(host, self)
  control.onmessage = () => host.close()
  self.postMessage('ready')
}
