import { type SetMetadata, setMetadataSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const setMetadata = defineOperation<SetMetadata>({
  schema: setMetadataSchema,
  apply: (transaction, operation) => {
    const { metadata } = transaction.model
    const former = metadata.get(operation.name) ?? null
    if (operation.value === null) metadata.delete(operation.name)
    else metadata.set(operation.name, operation.value)
    transaction.undoWith({ op: 'set-metadata', name: operation.name, value: former })
    transaction.applied.push(operation)
  },
})
