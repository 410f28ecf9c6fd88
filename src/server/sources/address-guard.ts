import dns from 'node:dns/promises'
import net from 'node:net'
import ipaddr from 'ipaddr.js'
import { sources as messages } from '../../messages/server/sources'
import { SourceError } from '../ports/connector'

/**
 * Refuses addresses that lie on this machine or in a private network, unless the library was set up there.
 *
 * A library's answer can name any address; without this it could make us ask machines that only we can reach.
 *
 * @param allowedHosts "host:port" of libraries that were set up by hand.
 * @throws {SourceError} refused, down.
 */
export async function requirePublicAddress(
  url: URL,
  { libraryName, allowedHosts }: { readonly libraryName: string; readonly allowedHosts: ReadonlySet<string> },
): Promise<void> {
  if (url.protocol !== 'https:' && url.protocol !== 'http:')
    throw new SourceError('refused', messages.pointedAddressThatNotOn(libraryName))
  if (allowedHosts.has(url.host)) return
  const host = url.hostname.replace(/^\[|\]$/g, '')
  const addresses = net.isIP(host) > 0 ? [host] : await resolveAddress(host, libraryName)
  if (addresses.some((address) => !isPublic(address)))
    throw new SourceError(
      'refused',
      `${libraryName} pointed to an address in a private network (${url.host}); it was not followed.`,
    )
}

/** Whether an IP address can be reached from everywhere. Source: the IANA special-purpose address registries. */
export function isPublic(address: string): boolean {
  return ipaddr.process(address).range() === 'unicast'
}

async function resolveAddress(host: string, libraryName: string): Promise<string[]> {
  try {
    return (await dns.lookup(host, { all: true })).map(({ address }) => address)
  } catch (cause) {
    throw new SourceError('down', messages.cannotBeReachedThereNo(libraryName, host), { cause })
  }
}
