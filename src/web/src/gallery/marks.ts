/** Marks drawn for networks whose rules are still to come; each moves into its network's data file with them. */
export const comingMarks: Readonly<Record<string, string>> = {
  Meadow: 'M12 21 V6 M12 21 C12 14 8 11 4 10 M12 21 C12 15 16 12 20 12',
  Guildhall: 'M3 9 L12 3 L21 9 Z M6 12 V17 M12 12 V17 M18 12 V17 M3 20 H21',
  Corkwall: 'M5 8 H19 V21 H5 Z M12 8 V3 M9 3 H15',
  Jig: 'M7 3 H17 V21 H7 Z M10.5 9 L14 12 L10.5 15',
  Doorstep: 'M3 20 H21 M3 20 V15 H9 V10 H15 V5 H21 V20',
};
