// Counts texts with outside references: twitter-text (npm, weights of its version 3 configuration) and graphemer (npm, UAX #29).
// Reads a JSON list of texts from standard input; writes a JSON list of counts.
import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';

const require = createRequire(process.argv[2] + '/');
const weights = require('twitter-text');
const Graphemer = require('graphemer').default;
const splitter = new Graphemer();
const { parseTweet, extractUrls, extractHashtags } = weights.default ?? weights;

const texts = JSON.parse(readFileSync(0, 'utf8'));
process.stdout.write(JSON.stringify(texts.map((text) => {
  const normal = text.normalize('NFC');
  return {
    weight: parseTweet(normal).weightedLength,
    links: extractUrls(normal),
    hashtags: extractHashtags(normal),
    graphemes: splitter.countGraphemes(normal),
  };
})));
