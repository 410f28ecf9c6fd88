/** What the core says of likeness. */
export const likeness = {
  slowerAttack: 'slower attack',
  fasterAttack: 'faster attack',
  ringsLonger: 'rings longer',
  endsSooner: 'ends sooner',
  moreTonal: 'more tonal',
  moreLowEnd: 'more low end',
  lessLowEnd: 'less low end',
}
