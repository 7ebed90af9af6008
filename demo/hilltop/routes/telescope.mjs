import { Router } from 'express'

export const at = '/telescope'
export const router = Router()
router.get('/', (_, page) => page.render('telescope'))
