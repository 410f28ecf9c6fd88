/** What signs the demo's channel in at each stand-in. */
export const STANDIN_SECRETS = {
  'tin-barn': { key: 'small-hours-key' },
  'heron-slate': { user: 'small-hours', password: 'kettle-and-dome' },
  'pell-marrow': { user: 'small-hours', password: 'pays-by-the-sound' },
  skerryview: { key: 'sv-small-hours' },
  'quarry-hall': { key: 'qh-small-hours' },
} as const

/** Where each stand-in answers, with what signs the demo's channel in: as the application takes it. */
export function givenLibraries<Id extends keyof typeof STANDIN_SECRETS>(urls: Readonly<Record<Id, string>>) {
  const entries = (Object.keys(urls) as Id[]).map((id) => [id, { address: urls[id], secrets: STANDIN_SECRETS[id] }])
  return Object.fromEntries(entries) as Record<Id, { address: string; secrets: (typeof STANDIN_SECRETS)[Id] }>
}
