import './styles/base.css'
import { App } from './App'
import { mount } from 'http'

mount('#app', <App />)
