/** The package that knows the Unified Code for Units of Measure has no types of its own; `unit-tables.ts` says what is used of it. */
declare module '@lhncbc/ucum-lhc'
