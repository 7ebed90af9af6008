import { Button } from './Button'

export const pressed = <Button on={() => {}}>Book it</Button>
