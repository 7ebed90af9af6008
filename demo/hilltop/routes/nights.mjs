import { Router } from 'express'
import { all } from '../lib/nights.mjs'

export const at = '/nights'
export const router = Router()
router.get('/', (_, page) => page.render('nights/list', { nights: all() }))
