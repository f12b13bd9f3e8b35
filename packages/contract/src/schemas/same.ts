/** A type as plain data: writable, and written out to its last field, so that two of them can be held against each other. */
type Plain<T> = T extends readonly (infer Item)[] ? Plain<Item>[] : T extends object ? { -readonly [K in keyof T]: Plain<T[K]> } : T;
/** Identical, optional fields and all: one that only one side has does not compile, which assignability would let pass. */
// eslint-disable-next-line @typescript-eslint/no-unnecessary-type-parameters -- the type is compared, never called
type Identical<A, B> = (<T>() => T extends A ? 1 : 2) extends <T>() => T extends B ? 1 : 2 ? true : false;
export type Same<A, B> = Identical<Plain<A>, Plain<B>>;
