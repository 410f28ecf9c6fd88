/** What the server says of moments. */
export const moments = {
  noWordsYet: 'no words yet',
  wasCutOut: 'was cut out',
  soundThatNotHereAny: 'a sound that is not here any more',
  framesASecondS: (fileName: string, rateName: string, cutLengthS: string) =>
    `${fileName}, ${rateName} frames a second, ${cutLengthS} s`,
  noCutYet: 'no cut yet',
}
