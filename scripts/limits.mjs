// Reads the limits of input from the OpenAPI document, for the page: node limits.mjs OPENAPI.json LIMITS.ts
import { readFileSync, writeFileSync } from 'node:fs';

const [, , from, to] = process.argv;
const { schemas } = JSON.parse(readFileSync(from, 'utf8')).components;
const limitsOf = (property) => ({
  ...(property.maxLength !== undefined && { maxLength: property.maxLength }),
  ...(property.maxItems !== undefined && { maxItems: property.maxItems }),
  ...(property.minimum !== undefined && { min: property.minimum }),
  ...(property.maximum !== undefined && { max: property.maximum }),
});
const limits = {};
for (const [name, schema] of Object.entries(schemas)) {
  if (!/(Edit|Request|^FieldValues)$/.test(name)) continue;
  for (const [key, property] of Object.entries(schema.properties ?? {})) {
    const found = limitsOf(property);
    if (Object.keys(found).length > 0) limits[name] = { ...limits[name], [key]: found };
  }
}
const written = JSON.stringify(limits, null, 2)
  .replaceAll(/"(\w+)":/g, '$1:')
  .replaceAll(/\{\s+((?:maxLength|maxItems|min|max): [\d.]+(?:,\s+(?:maxLength|maxItems|min|max): [\d.]+)*)\s+\}/g, (_, inner) => `{ ${inner.replaceAll(/,\s+/g, ', ')} }`)
  .replaceAll(/\}(?=\n)/g, '},')
  .replace(/,$/, '');
writeFileSync(
  to,
  `/** Limits of input, as attributes of fields; written by ./lark types from the API's document. */\nexport const limits = ${written} as const;\n`,
);
