import { refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import { ColumnModel, type ColumnProperties, type RowsTable } from '../model/index.js'
import { type JournaledSetRule, type RemoveRule, removeRuleSchema, setRuleSchema } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { defineOperation } from './define.js'

export const setRule = defineOperation<JournaledSetRule>({
  schema: setRuleSchema,
  apply: (transaction, operation) => {
    const { model } = transaction
    const table = model.table(operation.table)
    const rules = table.rules
    const { condition, severity, note, blankIsWrong } = operation
    const properties: ColumnProperties = {
      ...(severity !== undefined && { severity }),
      ...(note !== undefined && { note }),
      ...(blankIsWrong === true && { blankIsWrong }),
    }
    const known = model.rule(operation.name)
    if (known !== undefined && known.table !== rules)
      throw refusal(
        'name-taken',
        { place: `Table ${known.table.name}`, kind: 'rule', name: printName(known.column.name) },
        { table: table.name },
      )
    if (known === undefined) {
      const rule = makeRule(transaction, operation, properties)
      rules.insert(rule, operation.before === undefined ? undefined : rules.column(operation.before))
      transaction.unbound.set(rule, rules)
      transaction.applied.push({ ...operation, id: rule.id })
      transaction.undoWith({ op: 'remove-rule', table: table.name, name: rule.name })
      return
    }
    const { column: rule } = known
    transaction.undoWith(ruleOperation(table, rule))
    rule.setFormula(condition)
    rule.properties = properties
    transaction.unbound.set(rule, rules)
    transaction.applied.push({ ...operation, id: rule.id })
  },
})

function makeRule(
  transaction: Transaction,
  { id, name, condition }: JournaledSetRule,
  properties: ColumnProperties,
): ColumnModel {
  const made = transaction.model.takeColumnId(id)
  transaction.gone.delete(made)
  return new ColumnModel({ id: made, name, type: 'boolean', formula: condition, properties })
}

/** The operation that makes a rule as it is. */
export function ruleOperation(table: RowsTable, rule: ColumnModel): JournaledSetRule {
  const { severity, note, blankIsWrong } = rule.properties
  return {
    op: 'set-rule',
    table: table.name,
    name: rule.name,
    condition: rule.formula?.text ?? 'true',
    id: rule.id,
    ...(severity !== undefined && { severity }),
    ...(note !== undefined && { note }),
    ...(blankIsWrong !== undefined && { blankIsWrong }),
  }
}

export const removeRule = defineOperation<RemoveRule>({
  schema: removeRuleSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const rules = table.rules
    dropRule(transaction, table, rules.column(operation.name))
    transaction.applied.push(operation)
  },
})

/** Takes a rule away and notes how it comes back. */
export function dropRule(transaction: Transaction, table: RowsTable, rule: ColumnModel): void {
  const rules = table.rules
  const after = rules.after(rule)?.name
  transaction.undoWith({ ...ruleOperation(table, rule), ...(after !== undefined && { before: after }) })
  transaction.engine.forget(rule.id)
  transaction.gone.add(rule.id)
  transaction.unbound.delete(rule)
  rules.store.dropColumn(rule.id)
  rules.remove(rule)
}
