export { ftsQuery } from './fts-query'
