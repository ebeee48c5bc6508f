/**
 * The languages of lowlight 3.3.0, in its order: the name, other names of it, and behind `>` the languages that may stand within; `*` for all.
 * By this table a site loads the few that it has, for all of them take a quarter of a second. A test compares it with the package.
 */
export const HIGHLIGHTED_LANGUAGES = `
arduino ino
bash sh zsh
c h
cpp cc c++ h++ hpp hh hxx cxx
csharp cs c#
css
diff patch
go golang
graphql gql
ini toml
java jsp
javascript js jsx mjs cjs > xml css graphql
json jsonc json5
kotlin kt kts
less
lua pluto
makefile mk mak make
markdown md mkdown mkd > xml
objectivec mm objc obj-c obj-c++ objective-c++
perl pl pm > mojolicious
php
php-template > xml php
plaintext text txt
python py gyp ipython
python-repl pycon > python
r
ruby rb gemspec podspec thor irb
rust rs
scss
shell console shellsession > bash
sql
swift
typescript ts tsx mts cts > xml css graphql
vbnet vb
wasm
xml html xhtml rss atom xjb xsd xsl plist wsf svg > css javascript handlebars
yaml yml > ruby
1c
abnf
accesslog
actionscript as
ada
angelscript asc
apache apacheconf
applescript osascript
arcade
armasm arm
asciidoc adoc > xml
aspectj
autohotkey ahk
autoit
avrasm
awk
axapta x++
basic
bnf
brainfuck bf
cal
capnproto capnp
ceylon
clean icl dcl
clojure clj edn
clojure-repl > clojure
cmake cmake.in
coffeescript coffee cson iced > javascript
coq
cos cls > sql javascript xml
crmsh crm pcmk
crystal cr
csp
d
dart > markdown
delphi dpr dfm pas pascal
django jinja > xml
dns bind zone
dockerfile docker > bash
dos bat cmd
dsconfig
dts
dust dst > xml
ebnf
elixir ex exs
elm
erb > xml ruby
erlang erl
erlang-repl
excel xlsx xls
fix
flix
fortran f90 f95
fsharp fs f#
gams gms
gauss gss
gcode nc
gherkin feature
glsl
gml
golo
gradle
groovy
haml > ruby
handlebars hbs html.hbs html.handlebars htmlbars > xml
haskell hs
haxe hx
hsp
http https > *
hy hylang
inform7 i7
irpf90
isbl
jboss-cli wildfly-cli
julia
julia-repl jldoctest > julia
lasso ls lassoscript
latex tex
ldif
leaf
lisp
livecodeserver
livescript ls > javascript
llvm
lsl
mathematica mma wl
matlab
maxima
mel
mercury m moo
mipsasm mips
mizar
mojolicious > xml perl
monkey
moonscript moon
n1ql
nestedtext nt
nginx nginxconf
nim
nix nixos > markdown
node-repl > javascript
nsis
ocaml ml
openscad scad
oxygene
parser3 > xml
pf pf.conf
pgsql postgres postgresql > perl python tcl r lua java php ruby bash scheme xml json
pony
powershell pwsh ps ps1
processing pde
profile
prolog
properties
protobuf proto
puppet pp
purebasic pb pbi
q k kdb
qml qt > xml
reasonml re
rib
roboconf graph instances
routeros mikrotik
rsl
ruleslanguage
sas
scala
scheme scm
scilab sci
smali
smalltalk st
sml ml
sqf
stan stanfuncs
stata do ado
step21 p21 step stp
stylus styl
subunit
taggerscript
tap > yaml
tcl tk
thrift
tp
twig craftcms > xml
vala
vbscript vbs
vbscript-html > xml vbscript
verilog v sv svh
vhdl
vim
wren
x86asm
xl tao
xquery xpath xq xqm > xml
zephir zep
`
