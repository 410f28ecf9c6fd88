import type { Terms } from '../../rights'

/**
 * Terms and papers as policies of the Open Digital Rights Language, in JSON-LD.
 *
 * Source: W3C, ODRL Information Model 2.2 and ODRL Vocabulary & Expression 2.2 (2018). What the vocabulary has no word for stands under
 * the prefix `thud` and is listed in {@link PROFILE_TERMS}; a reader that does not know it still sees what is permitted, prohibited and
 * owed, and every limit on it.
 */
export interface OdrlPolicy {
  readonly '@context': typeof ODRL_CONTEXT
  readonly '@type': 'Set' | 'Agreement'
  readonly uid: string
  readonly profile: string
  /** Where rules disagree, the prohibition holds. */
  readonly conflict: 'prohibit'
  readonly assigner?: OdrlParty
  readonly assignee?: OdrlParty
  readonly permission?: readonly OdrlRule[]
  readonly prohibition?: readonly OdrlRule[]
  /** The terms with their clauses and quotes, and the text that they stand in, as one JSON literal. */
  readonly 'thud:terms': JsonLiteral<StatedTerms>
  /** The policy that holds the terms with their text; agreements only. */
  readonly 'thud:under'?: { readonly '@id': string }
  /** How the copy was acquired; agreements only. */
  readonly 'thud:grant'?: JsonLiteral<GrantScope>
  /** What the papers come to for each use on a day; agreements only. Nothing rests on it. */
  readonly 'thud:decisions'?: JsonLiteral<readonly StatedDecision[]>
}

/** A value that JSON-LD carries as it stands. */
export interface JsonLiteral<T> {
  readonly '@type': '@json'
  readonly '@value': T
}

export interface OdrlParty {
  readonly '@type': 'Party'
  readonly uid: string
  readonly 'thud:name': string
}

export interface OdrlRule {
  readonly target: string
  readonly action: string
  readonly constraint?: readonly OdrlConstraint[]
  /** What has to be done for the permission to hold. */
  readonly duty?: readonly { readonly action: string }[]
  /** The point of the terms that the rule stands for. */
  readonly 'thud:point': string
  /** The words that it rests on. */
  readonly 'thud:quote'?: string
}

export interface OdrlConstraint {
  readonly leftOperand: string
  readonly operator: 'eq' | 'neq' | 'lteq' | 'gteq' | 'isAnyOf'
  readonly rightOperand: OdrlOperand | readonly OdrlOperand[]
}

/** An identifier, or a literal with its type. */
export type OdrlOperand = { readonly '@id': string } | { readonly '@value': string; readonly '@type': string }

export interface StatedTerms extends Terms {
  readonly text: string | null
}

/** What a grant adds to its terms. */
export interface GrantScope {
  /** "library", "purchase", "declared": how it came to be. */
  readonly kind: string
  readonly title: string
  /** YYYY-MM-DD. */
  readonly acquiredOn: string
  readonly planFrom: string | null
  readonly planUntil: string | null
  /** Identifiers of the videos that it was bound to, the first first. */
  readonly boundTo: readonly string[]
  /** Whose word it rests on, where it rests on a word alone. */
  readonly onTheWordOf: string | null
}

export interface StatedDecision {
  readonly use: string
  /** YYYY-MM-DD. */
  readonly asOf: string
  readonly verdict: string
}

export const ODRL_CONTEXT = [
  'http://www.w3.org/ns/odrl.jsonld',
  {
    thud: 'urn:good-thud:rights:',
    cc: 'http://creativecommons.org/ns#',
    dct: 'http://purl.org/dc/terms/',
    xsd: 'http://www.w3.org/2001/XMLSchema#',
  },
] as const
export const ODRL_PROFILE = 'urn:good-thud:rights:profile'

/** What our profile adds to the vocabulary. */
export const PROFILE_TERMS = {
  leftOperands: {
    'thud:condition': 'A condition that the terms set for this use, in the words that are quoted.',
    'thud:audienceSize': 'How many people are expected to see the video.',
    'thud:seats': 'How many people work with the sounds.',
    'thud:videoLength': 'Length of the finished video, in seconds.',
    'thud:publishedOn': 'Day on which the video is first published.',
    'thud:plan': 'The plan that the copy was acquired under, at the time of the use.',
    'thud:video': 'The video that the sound is used in.',
    'thud:videoLicence': 'The licence that the video itself is published under.',
  },
  actions: { 'thud:keepProof': 'To keep the receipt or another proof of the grant on file.' },
  operands: {
    'thud:unstated': 'What the terms do not state, or not plainly: no use meets it.',
    'thud:met': 'The condition is met, and that is on record.',
    'thud:active': 'The plan runs.',
    'thud:earning': 'The video earns: adverts, sponsors, membership, sale.',
    'thud:client': 'A client that the finished video is handed to.',
  },
} as const
