-- A real client of the language server: Neovim without a terminal. scripts/test-language-server.sh starts it in a folder
-- that `vturn new` began. Leaves with 1 and says why when something is not as it should be.
local function check(holds, what)
  if not holds then
    io.stderr:write("not so: " .. what .. "\n")
    vim.cmd("cquit 1")
  end
end

local function told()
  local list = {}
  for _, one in ipairs(vim.diagnostic.get(0)) do
    table.insert(list, one.message)
  end
  return table.concat(list, "\n")
end

local function wait_for(part)
  check(vim.wait(60000, function() return told():find(part, 1, true) ~= nil end, 10), "told within a minute: " .. part .. "; it is: " .. told())
end

local function ask(method, more)
  local params = vim.tbl_extend("force", { textDocument = vim.lsp.util.make_text_document_params() }, more or {})
  local answers, fault = vim.lsp.buf_request_sync(0, "textDocument/" .. method, params, 60000)
  check(answers ~= nil, method .. ": " .. tostring(fault))
  local _, answer = next(answers)
  check(answer ~= nil and answer.error == nil, method .. ": " .. vim.inspect(answer and answer.error))
  return answer.result
end

local function lines() return vim.api.nvim_buf_get_lines(0, 0, -1, false) end
local function at(pattern, into)
  for number, line in ipairs(lines()) do
    local from = line:find(pattern, 1, true)
    if from then
      return { position = { line = number - 1, character = from - 1 + (into or 0) } }
    end
  end
  check(false, "there is a line with " .. pattern)
end

dofile(os.getenv("NEOVIM_FILE"))
vim.cmd("edit follow.plan")
check(vim.wait(60000, function() return #vim.lsp.buf_get_clients(0) == 1 end, 10), "a server runs")
local written = lines()

-- What is known here.
local hover = ask("hover", at("bend(", 1))
check(hover.contents.value:find("a positive turn bends to the left", 1, true), "a word's meaning")
check(hover.contents.value:find("first: left, radius", 1, true), "what the folder's robot does: " .. hover.contents.value)
check(#ask("documentSymbol") == 3, "two lets and a habit")
check(ask("definition", at("cruise)", 1)).range.start.line == at("let cruise").position.line, "where a let is told")
check(#ask("references", vim.tbl_extend("force", at("let cruise", 5), { context = { includeDeclaration = true } })) >= 3, "its uses")

-- A slip is told as it is typed, mended by what is offered, and gone.
local slip = at("ahead(slow)", 0).position
vim.api.nvim_buf_set_text(0, slip.line, slip.character, slip.line, slip.character + 5, { "ahaed" })
wait_for("did you mean `ahead`?")
local actions = ask("codeAction", { range = { start = slip, ["end"] = slip }, context = { diagnostics = {} } })
check(#actions == 1, "one cure is offered")
vim.lsp.util.apply_workspace_edit(actions[1].edit, "utf-16")
check(vim.deep_equal(lines(), written), "the cure mends it")
check(vim.wait(60000, function() return told() == "" end, 10), "nothing is told of a sound plan, but: " .. told())

-- What vet finds with the robot and course of the folder.
local weak = at("[..#]").position
vim.api.nvim_buf_set_lines(0, weak.line, weak.line + 1, false, { "    [..#] -> bend(-2, cruise)" })
wait_for("it does not hold the bend")
vim.api.nvim_buf_set_lines(0, 0, -1, false, written)

-- Names and layout.
vim.lsp.util.apply_workspace_edit(ask("rename", vim.tbl_extend("force", at("let cruise", 5), { newName = "swift" })), "utf-16")
check(table.concat(lines(), "\n"):find("ahead(slow)", 1, true) and not table.concat(lines(), "\n"):find("cruise", 1, true), "all uses have the new name")
local function lay_out()
  vim.lsp.util.apply_text_edits(ask("formatting", { options = { tabSize = 4, insertSpaces = true } }), vim.api.nvim_get_current_buf(), "utf-16")
end
lay_out()
local fine = lines()
vim.api.nvim_buf_set_lines(0, slip.line, slip.line + 1, false, { (fine[slip.line + 1]:gsub("%s+%->", "->")) })
check(not vim.deep_equal(lines(), fine), "a line is out of its layout")
lay_out()
check(vim.deep_equal(lines(), fine), "the plan is laid out again")

-- Many edits as a hand makes them; then the server must know the text as one that is opened anew.
local seed = 7
local function below(n)
  seed = (seed * 48271) % 2147483647
  return seed % n
end
local pieces = { "x", " ", "é", "🌿", "{", "}", "[#..] -> halt", "// ", "\"", "let a = 3", "" }
for _ = 1, tonumber(os.getenv("EDITS") or "400") do
  local row = below(#lines())
  local line = lines()[row + 1]
  local from, to = 0, 0
  if #line > 0 then
    local chars = vim.fn.strchars(line)
    local a = below(chars + 1)
    local b = math.min(chars, a + below(4))
    from, to = vim.fn.byteidx(line, a), vim.fn.byteidx(line, b)
  end
  local put = { pieces[1 + below(#pieces)] }
  if below(6) == 0 then table.insert(put, pieces[1 + below(#pieces)]) end
  vim.api.nvim_buf_set_text(0, row, from, row, to, put)
end
local symbols, tokens = ask("documentSymbol"), ask("semanticTokens/full")
local text = lines()
vim.cmd("edit! other.plan")
vim.api.nvim_buf_set_lines(0, 0, -1, false, text)
check(vim.deep_equal(symbols, ask("documentSymbol")), "the outline after many edits")
check(vim.deep_equal(tokens, ask("semanticTokens/full")), "the colours after many edits")

-- The files beside it.
vim.cmd("edit! first.robot.toml")
check(ask("hover", at("look_ms", 2)).contents.value:find("loop period", 1, true), "what a key means")
vim.api.nvim_buf_set_lines(0, 0, 0, false, { "look_m = 3" })
wait_for("look_ms")

for _, client in pairs(vim.lsp.get_active_clients()) do
  client.stop()
end
check(vim.wait(20000, function() return #vim.lsp.get_active_clients() == 0 end, 10), "the server leaves when it is asked to")
io.stdout:write("the language server does with Neovim what it should\n")
vim.cmd("qall!")
