-- Vast Turn in Neovim, from 0.7 on: in init.lua write dofile("/path/to/editors/neovim.lua"). The language server is the
-- `vturn` on the PATH, or what VTURN names. scripts/test-language-server.sh tests this very file.
local files = {
  "*.plan", "*.robot.toml", "*.course.toml", "*.days.toml", "*.calibration.toml", "*.trips.toml", "*.pieces.toml",
  "vturn.toml",
}
vim.filetype.add({ extension = { plan = "plan" } })

local client
vim.api.nvim_create_autocmd({ "BufReadPost", "BufNewFile" }, {
  pattern = files,
  callback = function(event)
    local settings = { name = "vturn", cmd = { os.getenv("VTURN") or "vturn", "language-server" }, root_dir = vim.fn.getcwd() }
    if vim.lsp.start then
      vim.lsp.start(settings, { bufnr = event.buf })
    else
      client = client or vim.lsp.start_client(settings)
      vim.lsp.buf_attach_client(event.buf, client)
    end
  end,
})
