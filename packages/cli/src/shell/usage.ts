/** What the tool's exit codes say. */
export const ExitCode = { done: 0, refused: 1, wrong: 2 } as const

/** The command was wrong, or a file could not be read: exit 2 with this message and nothing else. */
export class UsageFault extends Error {}

/** The command was understood, and what it asks cannot be: exit 1 with this message and nothing else. */
export class CommandRefusal extends Error {}
