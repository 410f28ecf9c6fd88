/** What can be typed into the search line, and what it means. */
export const LINE_WORDS: readonly (readonly [examples: readonly string[], meaning: string])[] = [
  [['ice crack'], 'both words, anywhere; a word may be a beginning'],
  [['"ice crack"'], 'in a row, as it is written'],
  [['-door'], 'without this word'],
  [['door under 2 s', 'wind over 1 min'], 'a length in plain words is offered as a filter; Enter takes it'],
  [['[under 2 s]', '[2 s to 5 s]', '[over 1 min]'], 'length'],
  [['[free]', '[in my plan]', '[free or up to 4.50]'], 'cost'],
  [['[licence CC BY or CC0]', '[no credit owed]'], 'licence'],
  [['[may be used]', '[with a credit]', '[not allowed]'], 'what the terms allow in the video in hand'],
  [['[from Tin Barn Commons]', '[by marram]', '[in Swells]'], 'source, maker, category'],
  [['[here already]', '[kept]', '[used before]'], 'what is yours'],
  [['[effects or ambience]', '[stereo]', '[loops]'], 'kind of sound'],
  [['[90 to 120 bpm]', '[mood calm]', '[without vocals]'], 'music'],
  [['[added since 2026-11-01]'], 'date'],
  [['[in titles only]', '[in descriptions only]'], 'where the words have to stand'],
]
