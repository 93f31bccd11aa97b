/** Marks drawn for networks whose rules are still to come; each moves into its network's data file with them. */
export const comingMarks: Readonly<Record<string, string>> = {
  Jig: 'M7 3 H17 V21 H7 Z M10.5 9 L14 12 L10.5 15',
};
