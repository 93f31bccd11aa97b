/**
 * The palette, by the names that the server knows; true where dark letters stand on the colour in the paper theme. Its
 * values are tokens in styles.css: ten steps of lightness, so that they part in greyscale and for colour-blind eyes too.
 */
export const palette: Readonly<Record<string, boolean>> = {
  tide: false,
  gorse: true,
  heather: false,
  reed: true,
  rust: false,
  slate: false,
  thrift: true,
  kelp: false,
  dune: true,
  dusk: false,
};
