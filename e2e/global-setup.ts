import { makeDemoData } from '../scripts/demo-data.mjs'

export default makeDemoData
