import { useQuery } from '@tanstack/react-query'
import { Command as CommandMenu } from 'cmdk'
import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import { flushSync } from 'react-dom'
import { useLocation } from 'wouter'
import { SoundPage, type Video } from '../../../contract'
import { messages } from '../../../messages'
import { ask } from '../../api/client'
import { useChangeShell, useVideos } from '../../api/queries'
import { lengthWords } from '../../format/words'
import { type Command, type CommandGroup, matchingGroups } from '../../state/command-list'
import { addressOf, NOTHING_ASKED } from '../../state/find-state'
import { type PageAction, usePageActionList } from '../../state/page-actions'
import { changeTheme, useIsDark } from '../../state/theme'
import { ModalDialog } from '../shared/ModalDialog'
import { STEP_NAMES, VIDEO_STEPS } from '../videos/VideoSteps'

const PLACES: readonly (readonly [title: string, address: string, note: string])[] = [
  [messages.shell.desk, '/desk', messages.shell.whatNeedsAttentionToday],
  [messages.shell.firstSteps, '/first-steps', messages.shell.connectALibraryCheckA],
  [messages.shell.find, '/find', messages.shell.searchAllSources],
  [messages.common.shelf, '/shelf', messages.shell.keptSoundsAndCopies],
  [messages.common.videos, '/videos', messages.shell.allOfThemWithWhat],
  [messages.common.papers, '/papers', messages.shell.termsAndGrants],
  [messages.shell.sources, '/sources', messages.shell.librariesAndFolders],
  [messages.common.compare, '/find/compare', messages.shell.pinnedSoundsSideBySide],
  [messages.shell.mayI, '/papers/may-i', messages.shell.askWhetherASoundMay],
  [messages.common.terms, '/papers/terms', messages.shell.allLicenceTexts],
  [messages.common.orders, '/papers/orders', messages.shell.receiptsAndTotals],
  [messages.shell.ledger, '/papers/ledger', messages.shell.everyLicenceEvent],
  [messages.shell.basket, '/basket', messages.shell.soundsToBuy],
]
/** Shorter words name too many sounds. */
const LETTERS_FOR_SOUNDS = 2
const SOUNDS_SHOWN = 5

interface PaletteProps {
  readonly onClose: () => void
  readonly onHelp: () => void
}

/** One line from which every place, video, sound and action of the page is reached. */
export function Palette({ onClose, onHelp }: PaletteProps) {
  const inputRef = useRef<HTMLInputElement>(null)
  const [text, setText] = useState('')
  const [chosenId, setChosenId] = useState('')
  // What Enter takes is what answers to all that was typed so far.
  const groups = useCommands({ text, onHelp })
  useLayoutEffect(() => inputRef.current?.focus(), [])
  // What answers best is chosen until an arrow chooses another.
  const ids = groups.flatMap(({ commands }) => commands.map(({ id }) => id))
  const shownId = ids.includes(chosenId) ? chosenId : (ids[0] ?? '')
  const run = (command: Command): void => {
    // The page can be reached again before it does anything.
    flushSync(onClose)
    command.run()
  }
  return (
    <ModalDialog
      label={messages.shell.goToOrDo}
      layerClassName="modal modal-open items-start pt-[12vh]"
      className="w-[36rem] max-w-[calc(100vw-2rem)] rounded"
      contentClassName=""
      isClosedBeside
      onClose={onClose}
    >
      <CommandMenu
        shouldFilter={false}
        loop
        label={messages.shell.placesVideosSoundsAndActions}
        value={shownId}
        onValueChange={setChosenId}
      >
        <CommandMenu.Input
          ref={inputRef}
          value={text}
          onValueChange={(typed) => {
            setText(typed)
            setChosenId('')
          }}
          placeholder={messages.shell.goToAPlaceAVideoOr}
          className="w-full border-b ruled bg-transparent px-4 py-3 text-base outline-none"
        />
        <CommandMenu.List label={messages.shell.whatCanBeGoneTo} className="max-h-[50vh] overflow-y-auto p-1.5">
          <CommandMenu.Empty className="quiet px-3 py-4">
            {messages.shell.nothingHereIsCalledSounds(text.trim())}
          </CommandMenu.Empty>
          {groups.map(({ heading, commands }) => (
            <CommandMenu.Group
              key={heading}
              heading={heading}
              className="[&_[cmdk-group-heading]]:small-label [&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-0.5"
            >
              {commands.map((command) => (
                <CommandMenu.Item
                  key={command.id}
                  value={command.id}
                  onSelect={() => run(command)}
                  className="flex cursor-default items-baseline gap-3 rounded px-3 py-1.5 data-[selected=true]:bg-base-300"
                >
                  <span className="min-w-0 truncate font-semibold">{command.title}</span>
                  <span className="min-w-0 flex-1 truncate text-sm">{command.note}</span>
                  {command.keys && <kbd className="kbd kbd-sm shrink-0">{command.keys}</kbd>}
                </CommandMenu.Item>
              ))}
            </CommandMenu.Group>
          ))}
        </CommandMenu.List>
      </CommandMenu>
    </ModalDialog>
  )
}

function useCommands({ text, onHelp }: { text: string; onHelp: () => void }): CommandGroup[] {
  const [location, navigate] = useLocation()
  const listActions = usePageActionList()
  // What the page can do is what it could do when the list was opened.
  const [actions] = useState(listActions)
  const videos = useVideos().data?.videos
  const { mutate: changeShell } = useChangeShell()
  const isDark = useIsDark()
  const sounds = useSoundCommands(text, navigate)
  return useMemo(() => {
    const places = PLACES.map(([title, address, note]) => placeCommand(title, note, () => navigate(address)))
    const always = [
      actionCommand({
        title: isDark ? messages.shell.useTheLightTheme : messages.shell.useTheDarkTheme,
        keys: null,
        run: changeTheme,
      }),
      actionCommand({ title: messages.shell.keysAndHelp, keys: '?', run: onHelp }),
    ]
    const groups: CommandGroup[] = [
      {
        heading: messages.shell.onThisPage,
        commands: [...stepCommands(location, navigate), ...actions.map(actionCommand)],
      },
      { heading: messages.shell.places, commands: places },
      {
        heading: messages.common.videos,
        commands: (videos ?? []).flatMap((video) => videoCommands(video, navigate, changeShell, text)),
      },
      { heading: messages.shell.everywhere, commands: always },
    ]
    return [
      ...matchingGroups(groups, text),
      ...(sounds.length > 0 ? [{ heading: messages.common.sounds, commands: sounds }] : []),
    ]
  }, [actions, videos, isDark, location, navigate, changeShell, onHelp, sounds, text])
}

type Navigate = (address: string) => void

function placeCommand(title: string, note: string, run: () => void): Command {
  return { id: `place ${title}`, title, note, keys: null, run }
}

function actionCommand({ title, keys, run }: PageAction): Command {
  return { id: `action ${title}`, title, note: '', keys, run }
}

/** The other steps of the video whose page is open. */
function stepCommands(location: string, navigate: Navigate): Command[] {
  const [, id, open] = /^\/videos\/(\d+)(?:\/([\w-]+))?/.exec(location) ?? []
  if (!id) return []
  return VIDEO_STEPS.filter((step) => step !== open).map((step) => ({
    id: `step ${step}`,
    title: STEP_NAMES[step],
    note: messages.shell.stepOfThisVideo,
    keys: null,
    run: () => navigate(`/videos/${id}/${step}`),
  }))
}

/** The way to the page of a video; that it is taken in hand is offered once it is looked for. */
function videoCommands(
  { id, title }: Pick<Video, 'id' | 'title'>,
  navigate: Navigate,
  changeShell: (change: { videoInHandId: number }) => void,
  text: string,
): Command[] {
  const open = {
    id: `video ${id}`,
    title,
    note: messages.shell.openItsPage,
    keys: null,
    run: () => navigate(`/videos/${id}`),
  }
  if (text.trim() === '') return [open]
  const take = (): void => changeShell({ videoInHandId: id })
  return [open, { id: `hand ${id}`, title, note: messages.shell.takeInHand, keys: null, run: take }]
}

function useSoundCommands(text: string, navigate: Navigate): readonly Command[] {
  const wanted = text.trim()
  const query = useQuery({
    queryKey: ['palette', wanted],
    queryFn: ({ signal }) =>
      ask(`/api/sounds?${new URLSearchParams({ q: wanted, limit: String(SOUNDS_SHOWN) })}`, SoundPage, { signal }),
    enabled: wanted.length >= LETTERS_FOR_SOUNDS,
  })
  return useMemo(
    () =>
      wanted.length < LETTERS_FOR_SOUNDS
        ? []
        : (query.data?.sounds ?? []).map(({ id, title, source, durationS }) => ({
            id: `sound ${id}`,
            title,
            note: `${source.name} · ${lengthWords(durationS)}`,
            keys: null,
            run: () => navigate(addressOf({ ...NOTHING_ASKED, text: `"${title.replaceAll('"', '')}"` })),
          })),
    [wanted, query.data, navigate],
  )
}
