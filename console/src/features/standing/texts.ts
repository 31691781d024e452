/** Every sentence of the standing pages. */
export const t = {
  closed: (by: string) => `Maintenance is on since ${by}: only operators are let in.`,
};
