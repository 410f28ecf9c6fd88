import { table } from './phrase-cursor'

// The phrases of which grants are made, by what they do in a sentence, with the points that they allow.

export const USERS = table([
  'you|anyone|anybody|everyone|everybody|users|the user|licensees|the licensee|the buyer|buyers|the customer|customers',
])
export const GRANTORS = table([
  'we|i|the licensor|the author|the authors|the maker|the makers|the owner|this licence|this license',
])
export const ADVERBS = table(['freely|also|always|hereby|of course|royalty-free|free of charge|at no cost|all|both'])
export const MAY = table([
  'may|can|are free to|are allowed to|are permitted to|are welcome to|are entitled to|are authorised to|are authorized to|have permission to|have the right to|have the permission to|is free to|is allowed to|is permitted to|has the right to',
])
export const MAY_BE = table([
  'may be|can be|are free to be|are allowed to be|are licensed to be|are cleared to be|may all be|can all be',
])
export const ARE_FREE = table([
  'are free to use|are free for use|are licensed for use|are cleared for use|are free|are cleared|are licensed|is free to use|is free for use|is licensed for use|is cleared for use|is licensed|is cleared',
])
export const GIVE = table(['grant|give|allow|permit|grants|gives|allows|permits|hereby grant|hereby grants'])
export const RIGHT = table(['right to|rights to|licence to|license to|permission to'])
export const RIGHT_NOUN = table(['right|licence|license|permission'])
export const ARTICLES = table(['a|an|the|full'])
export const LICENCE_WORDS = table(
  ['worldwide', 'territory'],
  ['perpetual|permanent|everlasting', 'duration'],
  ['irrevocable|royalty-free|unlimited|full|free|transferable'],
)
export const IS_GRANTED = table(['are granted|are given|is granted|is given|get|receive|gets|receives'])

export const DETERMINERS = table(['all|any|each|each of|all of|any of|every|the|these|this|our|my|those|of'])
export const WORK_ADJECTIVES = table(['free|royalty-free|downloaded|audio|sound'])
export const WORKS = table([
  'it|them|sound|sounds|effect|effects|sound effect|sound effects|file|files|recording|recordings|sample|samples|audio|material|content|work|works|library|collection|pack|item|items|clips|clip',
])

export const EDIT_VERBS = table(
  ['use|include|incorporate|place|put'],
  [
    'edit|modify|adapt|alter|change|cut|mix|remix|loop|trim|layer|process|transform|shorten|cut up|edit and mix',
    'modification',
  ],
)
export const EDITED = table(
  ['used|included|incorporated|placed|put'],
  [
    'edited|modified|adapted|altered|changed|cut|mixed|remixed|looped|trimmed|layered|processed|transformed|shortened',
    'modification',
  ],
)
export const AND = table([', and|, or|and|or|,|as well as|and also'])
export const PREPOSITIONS = table(['in|on|for|within|as part of|inside'])
export const QUALIFIERS = table(
  ['any|all|your|your own|both|own|finished|new|kinds of|all kinds of|any kind of|types of'],
  ['any number of|unlimited|as many|an unlimited number of', 'projects'],
  ['commercial', 'earning'],
  [
    'commercial and non-commercial|non-commercial and commercial|commercial or non-commercial|non-commercial or commercial|personal and commercial|personal or commercial|private and commercial|commercial and private|commercial and personal|commercial or personal',
    'earning',
  ],
  ['monetised|monetized', 'earning'],
)
export const AS_YOU_LIKE = table(['as you like|as you want|as you wish|as they like'])
export const PLACES = table(
  ['video|videos|film|films|production|productions|project|projects|movies|medium|media|videos and films'],
  ['purpose|purposes|use|uses'],
  [
    'online videos|online video|web videos|videos online|films online|videos on the internet|videos on the web|films on the internet|the internet|the web|websites|web sites|social media|online publication|videos published online|videos that are published online|films published online|videos shown online|online use',
    'online',
  ],
  [
    'advertising|paid advertising|paid advertisements|advertisements|adverts|commercials|advertising campaigns',
    'paid-advertising',
  ],
  [
    'client work|work for clients|videos for clients|films for clients|client projects|commissioned work|commissioned videos|client videos',
    'client-work',
  ],
  [
    'broadcast|broadcasts|broadcasting|television|tv|radio|television and radio|television programmes|radio programmes',
    'broadcast',
  ],
  [
    'cinema|cinemas|film festivals|festivals|festival films|films shown at festivals|films shown in cinemas|theatrical films',
    'cinema',
  ],
  ['games|video games|computer games|apps|software|games and apps|games or apps', 'game'],
  ['online', 'online'],
  ['podcasts|audio books|audiobooks|audio plays', 'audio-only'],
  [
    'teaching|education|classrooms|training|internal presentations|presentations|internal use|internal training',
    'internal',
  ],
)
export const TAILS = table(
  [
    'worldwide|anywhere in the world|in all countries|in every country|throughout the world|all over the world|in all territories|around the world|anywhere',
    'territory',
  ],
  [
    'for ever|forever|in perpetuity|perpetually|without limit of time|without limit in time|for an unlimited time|permanently',
    'duration',
  ],
  [
    'free of charge|at no cost|for free|royalty-free|without payment|without further payment|without paying a fee|without further fees|without asking|without asking us',
  ],
  ['without a credit|without credit|without attribution|without giving credit|without any credit', 'credit'],
  ['and|,|, and'],
)
export const PUBLISH_VERBS = table(['publish|distribute|release|share|upload|post|show|license|put out'])
export const EARN_VERBS = table(['monetise|monetize|earn money with|make money with|sell', 'earning'])
export const YOUR_VIDEOS = table([
  'your video|your videos|your film|your films|your finished videos|your finished video|the finished video|the finished videos|the video|the videos|your productions|your own videos|videos that use them|your work',
])
export const WITH_WORK = table(['with|containing|that contain|that use|which contain|made with'])
export const ANY_LICENCE = table([
  'under any licence|under any license|under any terms|under any licence you like|under any license you like|under any licence you choose|under any license you choose|under a licence of your choice|under a license of your choice|under the licence of your choice|under the license of your choice|under whatever licence you like|under whatever license you like',
  'share-alike',
])
export const HAND_OVER = table(['hand over|give|deliver|hand|pass on', 'transfer'])
export const TO_CLIENTS = table([
  'to clients|to your clients|to your client|to a client|over to clients|over to your clients|to customers|to your customers',
])
export const USES_NOUN = table(
  ['use|usage|publication|publishing'],
  ['commercial use|commercial usage', 'earning'],
  ['online use|use online|online publication|publication online|publishing online', 'online'],
  ['broadcast use|broadcasting|use in broadcasts', 'broadcast'],
  ['editing|modification|modifications|adaptation|cutting|mixing|remixing|looping|processing|trimming', 'modification'],
  ['monetisation|monetization', 'earning'],
)
export const IS_ALLOWED = table([
  'is allowed|is permitted|is fine|is ok|is okay|is included|is free|is covered|are allowed|are permitted|are fine|are ok|are okay|are included|are covered|is explicitly allowed|is explicitly permitted',
])
export const LICENCES = table([
  'this licence|this license|the licence|the license|the right|this right|this permission|the permission|your licence|your license|it|these rights|the rights',
])
export const HOLDS = table([
  'is|are|holds|hold|lasts|last|is valid|applies|apply|is given|is granted|are granted|stays valid|remains valid',
])

export const ONLINE = table(['online', 'online'])
export const WAYS = table(['online', 'online'], ['commercially', 'earning'])
export const TO = table(['to'])
export const OF = table(['of'])
export const EARNED = table(['monetised|monetized|sold', 'earning'])
export const HANDED_OVER = table(['handed over|given|delivered', 'transfer'])
export const PUBLISHED = table(['published|released|distributed|shown|uploaded|shared|licensed'])
