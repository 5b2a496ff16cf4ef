#!/usr/bin/env node
import('../dist/bundle/main.js').then((tool) => tool.main(process.argv.slice(2)))
