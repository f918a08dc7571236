import {
  Button,
  Group,
  NumberInput,
  PasswordInput,
  SegmentedControl,
  Select,
  Textarea,
  TextInput,
} from '@mantine/core'
import { useState } from 'react'
import type { Schemas } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import classes from './Feeds.module.css'
import { type LookedAtFeed, useLook, type Where } from './feeds.ts'
import { NamedValues } from './NamedValues.tsx'

type Address = Schemas['AddressRequest']
type Database = Schemas['DatabaseRequest']
type Folder = Schemas['FolderRequest']
type Kind = 'address' | 'database' | 'folder'

const ADDRESS: Address = {
  address: '',
  query: [],
  headers: [],
  sign_in: 'none',
  user: '',
  password: null,
  pages: 'none',
  next_field: 'next',
  page_name: 'page',
  first_page: 1,
}
const DATABASE: Database = {
  system: 'postgresql',
  host: '',
  port: null,
  database: '',
  user: '',
  password: null,
  query: '',
}

interface Props {
  workspace: string
  /** The feed whose source is changed, with what it asks now. */
  feed?: { id: number; source: string; options: Record<string, unknown> }
  onLooked: (looked: LookedAtFeed) => void
}

/** Where a table is fetched from: its address and how to ask it, and a look at it. */
export function WhereFrom({ workspace, feed, onLooked }: Props) {
  const [kind, setKind] = useState<Kind>((feed?.source as Kind | undefined) ?? 'address')
  const before = (name: Kind) => (feed?.source === name ? kept(feed.options) : {})
  const [address, setAddress] = useState<Address>({ ...ADDRESS, ...before('address') })
  const [database, setDatabase] = useState<Database>({ ...DATABASE, ...before('database') })
  const [folder, setFolder] = useState<Folder>({ folder: '', files: '*', ...before('folder') })
  const look = useLook(workspace)
  const where: Where = { [kind]: { address, database, folder }[kind] }
  const ready = { address: address.address, database: database.query, folder: folder.folder }[kind]
  return (
    <form
      className={classes.where}
      onSubmit={(event) => {
        event.preventDefault()
        look.mutate({ where, feed: feed?.id ?? null }, { onSuccess: onLooked })
      }}
    >
      <SegmentedControl
        aria-label="Kind of source"
        value={kind}
        onChange={(value) => setKind(value as Kind)}
        data={[
          { value: 'address', label: 'An address' },
          { value: 'database', label: 'A database' },
          { value: 'folder', label: 'A folder of the server' },
        ]}
      />
      {kind === 'address' && <OfAddress asked={address} onChange={setAddress} again={!!feed} />}
      {kind === 'database' && <OfDatabase asked={database} onChange={setDatabase} again={!!feed} />}
      {kind === 'folder' && (
        <Group gap="xs" align="flex-start">
          <TextInput
            label="Folder"
            description="One that whoever runs this installation has allowed"
            value={folder.folder}
            onChange={({ currentTarget }) => setFolder({ ...folder, folder: currentTarget.value })}
            flex={2}
          />
          <TextInput
            label="Files"
            description="Such as *.csv; each is fetched once"
            value={folder.files}
            onChange={({ currentTarget }) => setFolder({ ...folder, files: currentTarget.value })}
            flex={1}
          />
        </Group>
      )}
      {look.error && <Notice error={look.error} />}
      <Group>
        <Button type="submit" loading={look.isPending} disabled={!ready?.trim()}>
          Look at the table
        </Button>
      </Group>
    </form>
  )
}

/** What a feed asks, as a form begins with it: secrets stay what they are. */
function kept(options: Record<string, unknown>): Record<string, unknown> {
  const hidden = (rows: unknown) =>
    (rows as { secret: boolean }[] | undefined)?.map((row) =>
      row.secret ? { ...row, value: null } : row,
    )
  const { query, headers, ...rest } = options
  if (!Array.isArray(query)) return options
  return { ...rest, query: hidden(query), headers: hidden(headers) }
}

interface OfAddressProps {
  asked: Address
  onChange: (asked: Address) => void
  again: boolean
}

function OfAddress({ asked, onChange, again }: OfAddressProps) {
  const set = (change: Partial<Address>) => onChange({ ...asked, ...change })
  const [more, setMore] = useState(
    again && ((asked.query?.length ?? 0) > 0 || asked.sign_in !== 'none' || asked.pages !== 'none'),
  )
  return (
    <>
      <TextInput
        label="Address of the table"
        description="CSV, XLSX, ODS, JSON or a web page with a table"
        placeholder="https://"
        value={asked.address}
        onChange={({ currentTarget }) => set({ address: currentTarget.value })}
      />
      <Group>
        <button
          type="button"
          className={classes.link}
          aria-expanded={more}
          onClick={() => setMore(!more)}
        >
          {more ? 'Less' : 'Sign-in, headers and pages'}
        </button>
      </Group>
      {more && (
        <>
          <Group gap="xs" align="flex-end">
            <Select
              label="Sign-in"
              data={[
                { value: 'none', label: 'None' },
                { value: 'basic', label: 'Name and password' },
                { value: 'bearer', label: 'Token (bearer)' },
              ]}
              value={asked.sign_in}
              allowDeselect={false}
              onChange={(value) => value && set({ sign_in: value as Address['sign_in'] })}
              w={190}
            />
            {asked.sign_in === 'basic' && (
              <TextInput
                label="Name"
                autoComplete="off"
                value={asked.user}
                onChange={({ currentTarget }) => set({ user: currentTarget.value })}
              />
            )}
            {asked.sign_in !== 'none' && (
              <PasswordInput
                label={asked.sign_in === 'basic' ? 'Password' : 'Token'}
                placeholder={again ? 'Kept as it is' : ''}
                autoComplete="new-password"
                value={asked.password ?? ''}
                // What is cleared again is as it was: none was typed.
                onChange={({ currentTarget }) => set({ password: currentTarget.value || null })}
                w={220}
              />
            )}
          </Group>
          <NamedValues
            noun="value of the query"
            rows={asked.query ?? []}
            onChange={(query) => set({ query })}
          />
          <NamedValues
            noun="header"
            rows={asked.headers ?? []}
            onChange={(headers) => set({ headers })}
          />
          <Group gap="xs" align="flex-end">
            <Select
              label="JSON in pages"
              data={[
                { value: 'none', label: 'All at once' },
                { value: 'link', label: 'Each page links to the next' },
                { value: 'number', label: 'Pages have numbers' },
              ]}
              value={asked.pages}
              allowDeselect={false}
              onChange={(value) => value && set({ pages: value as Address['pages'] })}
              w={240}
            />
            {asked.pages === 'link' && (
              <TextInput
                label="Where the link is"
                value={asked.next_field}
                onChange={({ currentTarget }) => set({ next_field: currentTarget.value })}
              />
            )}
            {asked.pages === 'number' && (
              <TextInput
                label="Name of the number"
                value={asked.page_name}
                onChange={({ currentTarget }) => set({ page_name: currentTarget.value })}
              />
            )}
          </Group>
        </>
      )}
    </>
  )
}

interface OfDatabaseProps {
  asked: Database
  onChange: (asked: Database) => void
  again: boolean
}

function OfDatabase({ asked, onChange, again }: OfDatabaseProps) {
  const set = (change: Partial<Database>) => onChange({ ...asked, ...change })
  const file = asked.system === 'sqlite'
  return (
    <>
      <Group gap="xs" align="flex-end">
        <Select
          label="System"
          data={[
            { value: 'postgresql', label: 'PostgreSQL' },
            { value: 'mysql', label: 'MySQL or MariaDB' },
            { value: 'sqlite', label: 'SQLite' },
          ]}
          value={asked.system}
          allowDeselect={false}
          onChange={(value) => value && set({ system: value as Database['system'] })}
          w={170}
        />
        {!file && (
          <>
            <TextInput
              label="Host"
              value={asked.host}
              onChange={({ currentTarget }) => set({ host: currentTarget.value })}
              flex={1}
            />
            <NumberInput
              label="Port"
              placeholder={asked.system === 'mysql' ? '3306' : '5432'}
              value={asked.port ?? ''}
              onChange={(value) => set({ port: Number(value) || null })}
              w={80}
            />
          </>
        )}
        <TextInput
          label={file ? 'File of the server' : 'Database'}
          value={asked.database}
          onChange={({ currentTarget }) => set({ database: currentTarget.value })}
          flex={1}
        />
      </Group>
      {!file && (
        <Group gap="xs">
          <TextInput
            label="User, best one that may only read"
            autoComplete="off"
            value={asked.user}
            onChange={({ currentTarget }) => set({ user: currentTarget.value })}
            flex={1}
          />
          <PasswordInput
            label="Password"
            placeholder={again ? 'Kept as it is' : ''}
            autoComplete="new-password"
            value={asked.password ?? ''}
            // What is cleared again is as it was: none was typed.
            onChange={({ currentTarget }) => set({ password: currentTarget.value || null })}
            flex={1}
          />
        </Group>
      )}
      <Textarea
        label="Question"
        description="One statement that reads; it runs in a transaction that cannot write"
        placeholder="SELECT week, turnaround FROM quay_weeks ORDER BY week"
        autosize
        minRows={3}
        spellCheck={false}
        value={asked.query}
        onChange={({ currentTarget }) => set({ query: currentTarget.value })}
      />
    </>
  )
}
