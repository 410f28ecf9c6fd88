export { type Credit, creditLine, creditsText } from './credit-line'
