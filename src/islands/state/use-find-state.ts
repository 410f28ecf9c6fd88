import { useCallback, useEffect, useRef, useState } from 'react'
import { useLocation, useSearch } from 'wouter'
import { addressOf, type FindState, fromAddress } from './find-state'

/** What is asked, which the address follows; going back asks it again. */
export function useFindState(): [FindState, (state: FindState) => void] {
  const search = useSearch()
  const [, navigate] = useLocation()
  const [state, setState] = useState(() => fromAddress(search))
  const shown = useRef(addressOf(state))
  useEffect(() => {
    const asked = fromAddress(search)
    if (addressOf(asked) === shown.current) return
    shown.current = addressOf(asked)
    setState(asked)
  }, [search])
  const change = useCallback(
    (next: FindState) => {
      setState(next)
      const address = addressOf(next)
      if (address === shown.current) return
      shown.current = address
      navigate(address, { replace: true })
    },
    [navigate],
  )
  return [state, change]
}
