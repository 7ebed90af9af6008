import { DomePanel } from './DomePanel'
import { rightAscension } from '../utils/format'

export const TelescopeScreen = () => (
  <div>
    <DomePanel />
    <p>Now pointing at {rightAscension(279.2)}</p>
  </div>
)
