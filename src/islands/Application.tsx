import { QueryClientProvider } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { flushSync } from 'react-dom'
import { Redirect, Route, Switch, useLocation } from 'wouter'
import { messages } from '../messages'
import { FreshClient } from './api/fresh-client'
import { JobsProvider } from './api/jobs'
import { PlayerProvider } from './audio/player'
import { JobsStrip } from './parts/shell/JobsStrip'
import { ListeningBar } from './parts/shell/ListeningBar'
import { Palette } from './parts/shell/Palette'
import { TopBar } from './parts/shell/TopBar'
import { UndoStrip } from './parts/shell/UndoStrip'
import { BasketPlace } from './places/BasketPlace'
import { ComparePlace } from './places/ComparePlace'
import { Desk } from './places/Desk'
import { Find } from './places/Find'
import { FirstSteps } from './places/FirstSteps'
import { LedgerPlace } from './places/LedgerPlace'
import { MayI } from './places/MayI'
import { OrdersPlace } from './places/OrdersPlace'
import { Papers } from './places/Papers'
import { ShelfPlace } from './places/ShelfPlace'
import { Sources } from './places/Sources'
import { TermsList } from './places/TermsList'
import { TermsPage } from './places/TermsPage'
import { VideoPage } from './places/VideoPage'
import { Videos } from './places/Videos'
import { CompareProvider } from './state/compare'
import { isTyping } from './state/keys'
import { PageActionsProvider } from './state/page-actions'
import { UndoProvider } from './state/undo'
import { useDocumentKeys } from './state/use-document-keys'

const PLACE_TITLES: readonly (readonly [string, string])[] = [
  ['/basket', messages.shell.basket],
  ['/desk', messages.shell.desk],
  ['/first-steps', messages.shell.firstSteps],
  ['/find/compare', messages.common.compare],
  ['/find', messages.shell.find],
  ['/shelf', messages.common.shelf],
  ['/papers', messages.common.papers],
  ['/videos', messages.common.videos],
  ['/sources', messages.shell.sources],
]

/** The whole interface: top bar, the place that the address names, listening bar. */
export function Application() {
  const [client] = useState(() => new FreshClient({ defaultOptions: { queries: { retry: 1, staleTime: 5_000 } } }))
  const [helpOpen, setHelpOpen] = useState(false)
  const [paletteOpen, setPaletteOpen] = useState(false)
  const [location] = useLocation()
  useEffect(() => {
    const place = PLACE_TITLES.find(([start]) => location.startsWith(start))?.[1] ?? messages.shell.goodThud
    document.title = messages.shell.titleOfPlace(place)
  }, [location])
  useDocumentKeys((event) => {
    if (event.key === '?' && !isTyping(event)) setHelpOpen(true)
  })
  // Also while words are typed; not over an open dialog.
  useDocumentKeys(
    (event) => {
      if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey) || event.altKey || event.shiftKey) return
      event.preventDefault()
      event.stopPropagation()
      // At once: the next key is typed into it.
      if (!document.querySelector('[data-modal]')) flushSync(() => setPaletteOpen(true))
    },
    { capture: true },
  )
  return (
    <QueryClientProvider client={client}>
      <JobsProvider>
        <PlayerProvider>
          <CompareProvider>
            <UndoProvider>
              <PageActionsProvider>
                <div className="grid h-dvh grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto]">
                  <TopBar helpOpen={helpOpen} onHelp={setHelpOpen} onPalette={() => setPaletteOpen(true)} />
                  <main className="min-h-0">
                    <Switch>
                      <Route path="/find" component={Find} />
                      <Route path="/find/compare" component={ComparePlace} />
                      <Route path="/shelf" component={ShelfPlace} />
                      <Route path="/videos" component={Videos} />
                      <Route path="/videos/:id/:step?">
                        {({ id, step }) => <VideoPage key={id} id={Number(id)} step={step} />}
                      </Route>
                      <Route path="/desk" component={Desk} />
                      <Route path="/first-steps" component={FirstSteps} />
                      <Route path="/papers" component={Papers} />
                      <Route path="/papers/may-i" component={MayI} />
                      <Route path="/basket" component={BasketPlace} />
                      <Route path="/papers/orders" component={OrdersPlace} />
                      <Route path="/papers/ledger" component={LedgerPlace} />
                      <Route path="/papers/terms" component={TermsList} />
                      <Route path="/papers/terms/:id">{({ id }) => <TermsPage key={id} id={Number(id)} />}</Route>
                      <Route path="/sources" component={Sources} />
                      <Route path="/">
                        <Redirect to="/find" replace />
                      </Route>
                      <Route>
                        <p className="p-8">{messages.shell.thereIsNothingAtThis}</p>
                      </Route>
                    </Switch>
                  </main>
                  <ListeningBar />
                  <JobsStrip />
                  <UndoStrip />
                </div>
                {paletteOpen && <Palette onClose={() => setPaletteOpen(false)} onHelp={() => setHelpOpen(true)} />}
              </PageActionsProvider>
            </UndoProvider>
          </CompareProvider>
        </PlayerProvider>
      </JobsProvider>
    </QueryClientProvider>
  )
}
