// Browsers know it; the Node.js that tests run on doesn't yet.
Map.groupBy ??= <K, T>(items: Iterable<T>, keyOf: (item: T, index: number) => K) => {
  const groups = new Map<K, T[]>();
  let index = 0;
  for (const item of items) {
    const key = keyOf(item, index++);
    groups.set(key, [...(groups.get(key) ?? []), item]);
  }
  return groups;
};

export {};
