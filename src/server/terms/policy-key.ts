const FROM_POLICY = 'odrl-'
const CONFIRMED = '-confirmed-'

/** Key of terms that a policy gave, whose points nobody has confirmed: by the hash of the whole document. */
export function policyKey(documentSha256: string): string {
  return `${FROM_POLICY}${documentSha256}`
}

/** Key of the same terms with some points confirmed. @param pointsSha256 Hash over which. */
export function confirmedKey(key: string, pointsSha256: string): string {
  return `${key}${CONFIRMED}${pointsSha256.slice(0, 16)}`
}

/** Whether terms are those of a policy whose points nobody has confirmed: no papers stand under them. */
export function isUnconfirmed(key: string): boolean {
  return key.startsWith(FROM_POLICY) && !key.includes(CONFIRMED)
}
