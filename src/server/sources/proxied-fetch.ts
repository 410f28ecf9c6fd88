import { EnvHttpProxyAgent, fetch as undiciFetch } from 'undici'

/** This machine is asked directly, whatever proxy there is. */
const HERE = ['localhost', '127.0.0.1', '[::1]']

/**
 * `fetch` as the environment has it: through the proxy that `HTTPS_PROXY` and `HTTP_PROXY` name, but for the hosts of `NO_PROXY` and for this machine.
 *
 * @param env By the usual names, in capitals or not. @returns null where it names no proxy.
 */
export function proxiedFetch(env: NodeJS.ProcessEnv): typeof fetch | null {
  const named = (name: string): string | undefined => env[name.toLowerCase()] || env[name] || undefined
  const httpProxy = named('HTTP_PROXY')
  const httpsProxy = named('HTTPS_PROXY')
  if (httpProxy === undefined && httpsProxy === undefined) return null
  const noProxy = [named('NO_PROXY'), ...HERE].filter(Boolean).join(',')
  const dispatcher = new EnvHttpProxyAgent({
    ...(httpProxy && { httpProxy }),
    ...(httpsProxy && { httpsProxy }),
    noProxy,
  })
  // Its types differ in names from those of the platform, not in what they do.
  return ((input: string | URL, init: object) => undiciFetch(input, { ...init, dispatcher })) as unknown as typeof fetch
}

const atStart = proxiedFetch(process.env)

/** As the environment was when the application started. Where it names no proxy, the platform's, as it is at the time. */
export const outboundFetch: typeof fetch = (input, init) => (atStart ?? fetch)(input, init)
