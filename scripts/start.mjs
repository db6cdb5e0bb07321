import { build, install } from './ready.mjs'
import { serve } from './serve.mjs'

install()
build()
serve()
