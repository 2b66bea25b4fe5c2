# The report, in a browser, as the person who opens it.

# Two sections of the demo, a dozen students each: a browser is quicker with them.
few_students <- function() {
  narrow_sitting(read_sitting(demo_path()), student = sprintf("h%03d", c(1:12, 29:40)))
}

report_of <- function(quiz, ...) {
  path <- tempfile(fileext = ".html")
  write_report(quiz, path, ...)
  path
}

test_that("the page needs no network and holds what the summaries say", {
  path <- report_of(read_sitting(demo_path()))
  html <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  expect_lt(file.size(path), 1.5e6)
  expect_true(
    grepl("Content-Security-Policy\" content=\"default-src 'none'", html, fixed = TRUE)
  )
  expect_false(
    grepl(
      "<(script|img|iframe|link)[^>]+(src|href)=[\"']?(https?:)?//",
      html,
      perl = TRUE
    )
  )
  page <- page_after(
    path,
    "
    said.score=document.querySelector('.score b').textContent;
    said.levels=[].map.call(document.querySelectorAll('.levels b'),function(e){return e.textContent});
    said.look=[].map.call(document.querySelectorAll('.look li a'),function(e){return e.textContent});
    said.who=[].map.call(document.querySelectorAll('#first li .who'),function(e){return e.textContent});
    said.low=[].map.call(document.querySelectorAll('.first > section'),
      function(e){return e.lastElementChild.getBoundingClientRect().bottom});said.side=document.body.scrollWidth;
    function rows(id){return document.querySelectorAll('#'+id+' .rt-tbody .rt-tr-group').length}
    said.rows=['item','option','grid','standard','idea','group'].map(function(t){return rows(t+'-table')});
    said.cells=document.querySelectorAll('#grid-table .rt-tbody .answer').length;",
    size = "1280,800"
  )
  # How, what and who without scrolling.
  expect_lt(max(page$low), 800)
  expect_lte(page$side, 1280)
  quiz <- read_sitting(demo_path())
  expect_equal(page$faults, list())
  expect_equal(page$score, "60%")
  expect_equal(
    as.integer(page$levels),
    as.vector(table(factor(summarise_students(quiz)$level, names(quiz$settings$levels))))
  )
  expect_equal(page$look, c("Q7", "Q9", "Q11", "Q14", "TC.2.b"))
  expect_equal(page$who[1:2], c("Yara Inlet", "Lio Jettison"))
  expect_equal(
    page$rows,
    c(
      24,
      20,
      80,
      8,
      4,
      length(
        unique(paste(
          group_students(quiz)$section,
          group_students(quiz)$group,
          ifelse(is.na(group_students(quiz)$group), group_students(quiz)$role, "")
        ))
      )
    )
  )
  expect_equal(page$cells, 80 * 24)
})

test_that("the questions stand hardest first and sort by any heading", {
  path <- report_of(few_students())
  order <- "function now(){return [].map.call(document.querySelectorAll('#item-table [data-item]'),
      function(e){return e.dataset.item})}
    function press(k){document.querySelectorAll('#item-table .rt-th')[k].click()}"
  page <- page_after(
    path,
    paste0(order, "said.begin=now();press(7);window.later=function(s){s.end=now()};")
  )
  items <- summarise_items(few_students())
  review <- review_items(few_students())
  expect_equal(page$begin[1:3], items$item[order(items$difficulty)][1:3])
  expect_equal(page$end, items$item[order(items$discrimination)])
  page <- page_after(
    path,
    paste0(
      order,
      "
    var f=document.querySelector('#items .rt-search');
    var set=Object.getOwnPropertyDescriptor(HTMLInputElement.prototype,'value');
    set.set.call(f,'look at');f.dispatchEvent(new Event('input',{bubbles:true}));
    window.later=function(s){s.left=now()};"
    )
  )
  expect_equal(sort(page$left), sort(review$item[review$verdict == "look"]))
})

test_that("names sort as the language does, and are found as they are written", {
  only_in_all()
  names <- c("Zeno Bay", "Nunzo Bay", "\u00c9mile Bay", "Eva Bay", "Nu\u00f1o Bay", "adam Bay")
  answers <- matrix(rep(c("A", "B", "A", "B"), 6), 6, dimnames = list(NULL, paste0("Q", 1:4)))
  quiz <- sitting(data.frame(student = names, answers), data.frame(item = paste0("Q", 1:4), key = "A"))
  path <- tempfile(fileext = ".html")
  seen <- function(language) {
    write_report(quiz, path, language = language)
    page_after(path, paste0(
      "function who(){return [].map.call(document.querySelectorAll('#grid-table .who'),",
      "function(e){return e.textContent})}",
      "var head=document.querySelectorAll('#grid-table .rt-th')[1];",
      "(head.querySelector('.rt-sort-header')||head).click();",
      "window.later=function(s){s.who=who();var f=document.querySelector('#grid .rt-search');",
      "Object.getOwnPropertyDescriptor(HTMLInputElement.prototype,'value').set.call(f,'\u00e9mile');",
      "f.dispatchEvent(new Event('input',{bubbles:true}));s.found=who()};"
    ))
  }
  english <- seen("en")
  expect_identical(english$who, names[c(6, 3, 4, 5, 2, 1)])
  expect_identical(english$found, names[3])
  expect_identical(seen("es")$who, names[c(6, 3, 4, 2, 5, 1)])
})

test_that(
  "a question, an answer, a student, a standard and an idea open to what is behind them",
  {
    quiz <- few_students()
    page <- page_after(
      report_of(quiz),
      "
    function open(table,text){var rows=[].filter.call(document.querySelectorAll('#'+table+' .rt-tbody .rt-tr'),
      function(r){return r.textContent.indexOf(text)>=0});rows[0].querySelector('.rt-expander-button').click()}
    document.querySelector('a[data-open=Q9]').click();document.querySelector('a[data-student]').click();
    open('option-table','They get much smaller');open('standard-table','TC.2.b');open('idea-table','WIND');
    open('group-table','Harbour A');
    window.later=function(s){function of(t){return document.querySelector('#'+t+'-table .opened')}
      s.text=of('item').textContent;var row=of('item').querySelectorAll('tbody tr')[1];
      s.who=row.querySelectorAll('.who').length;s.count=row.querySelector('summary').textContent;
      s.key=of('item').querySelector('tr.key b').textContent;
      s.chosen=of('option').querySelectorAll('.who').length;
      s.answers=of('grid').querySelectorAll('tbody tr').length;
      s.full=of('grid').querySelectorAll('tr.done').length;s.own=of('grid').textContent;
      s.shown=[].map.call(of('standard').querySelectorAll('a'),function(e){return e.textContent});
      s.below=of('standard').querySelectorAll('.who').length;
      s.held=[].map.call(of('idea').querySelectorAll('p'),function(p){return p.querySelectorAll('.who').length});
      s.because=of('group').textContent;
      s.expanded=document.querySelectorAll('.rt-expander-button[aria-expanded=true]').length};"
    )
    expect_match(page$text, "They get much smaller", fixed = TRUE)
    expect_match(page$text, "Why: Tides do not need wind.", fixed = TRUE)
    expect_equal(page$key, "C")
    expect_equal(c(page$who, as.integer(page$count), page$chosen), c(11, 11, 11))
    students <- summarise_students(quiz)
    lowest <- students$student[which.min(students$share)]
    own <- internal("student_answers")(quiz, lowest)
    expect_equal(page$answers, 24)
    expect_equal(page$full, sum(own$points >= own$most, na.rm = TRUE))
    expect_match(page$own, own$answer[3], fixed = TRUE)
    standards <- summarise_standards(quiz, "student")
    expect_equal(page$shown, c("Q14", "Q6"))
    expect_equal(
      page$below,
      sum(
        standards$share[standards$code == "TC.2.b"] < quiz$settings$mastery_cut,
        na.rm = TRUE
      )
    )
    wind <- summarise_misconceptions(quiz)
    expect_equal(
      page$held,
      Filter(unlist(
        wind[wind$code == "WIND", c("likely", "now_and_then", "once")],
        use.names = FALSE
      ), f = function(n) n > 0)
    )
    expect_match(page$because, "of 6 points on", fixed = TRUE)
    expect_equal(page$expanded, 6)
  }
)

test_that("the switch shows one section's figures everywhere, and goes back", {
  only_in_all()
  quiz <- few_students()
  page <- page_after(
    report_of(quiz),
    "
    function look(){function col(t,k){return [].map.call(document.querySelectorAll('#'+t+' .rt-tbody .rt-tr'),
      function(r){return r.children[k].textContent})}
      return {score:document.querySelector('.score b').textContent,students:col('grid-table',1).length,
      earned:col('item-table',3),share:col('standard-table',4).slice(0,8),
      plan:document.querySelector('#plan h3').textContent,likely:col('idea-table',2)}}
    function turn(k){var s=document.getElementById('section');s.value=k;s.dispatchEvent(new Event('change'))}
    said.whole=look();turn(1);
    setTimeout(function(){said.one=look();document.querySelectorAll('#item-table .rt-expander-button')[2].click();
      setTimeout(function(){said.counts=[].map.call(document.querySelectorAll('#item-table .opened tbody tr'),
        function(r){var c=r.querySelector('summary');
        return [Number(c?c.textContent:0),r.querySelectorAll('.who').length]});
        turn(0)},60)},60);
    window.later=function(s){s.back=look()};"
  )
  one <- narrow_sitting(quiz, section = "Harbour A")
  items <- summarise_items(one)
  percent <- internal("percent")
  expect_equal(page$one$score, percent(summarise_test(one)$mean_share))
  expect_equal(page$one$students, summarise_test(one)$n)
  expect_equal(sub("%.*", "%", trimws(page$one$earned)), percent(sort(items$difficulty)))
  expect_equal(
    sub("%.*", "%", trimws(page$one$share)),
    percent(summarise_standards(one)$share)
  )
  expect_equal(as.integer(page$one$likely), summarise_misconceptions(one)$likely)
  expect_match(page$one$plan, plan_reteach(one)$code[1], fixed = TRUE)
  expect_equal(page$counts[, 1], page$counts[, 2])
  expect_gt(max(page$counts), 0)
  expect_equal(page$back, page$whole)
})

test_that(
  "by keyboard alone a question opens, a heading sorts and what is wide scrolls",
  {
    page <- page_after(
      report_of(few_students()),
      "
    function key(e,k){e.focus();['keydown','keypress','keyup'].forEach(function(t){
      e.dispatchEvent(new KeyboardEvent(t,{key:k,code:k,keyCode:13,charCode:t==='keypress'?13:0,bubbles:true}))});
      if(e.tagName==='BUTTON'&&document.activeElement===e)e.click();return document.activeElement===e}
    var head=document.querySelectorAll('#item-table .rt-th')[1];
    said.head=key(head,'Enter');
    said.button=key(document.querySelector('#item-table .rt-expander-button'),'Enter');
    said.skip=document.querySelector('a.skip').getAttribute('href');
    var seen=[].filter.call(document.querySelectorAll('a,button,select,input'),
      function(e){return e.tabIndex<0});said.out=seen.length;
    document.querySelector('.wide').focus();said.wide=document.activeElement.className;
    window.later=function(s){s.sort=head.getAttribute('aria-sort');
      s.opened=document.querySelectorAll('#item-table .opened').length};"
    )
    expect_equal(page$faults, list())
    expect_true(page$head && page$button)
    expect_equal(page$skip, "#first")
    expect_equal(page$out, 0)
    expect_match(page$wide, "wide")
    expect_equal(page$sort, "ascending")
    expect_equal(page$opened, 1)
  }
)

test_that(
  paste0(
    "printed, each page bears title and number, each part its heading, and no switch is ",
    "on paper"
  ),
  {
    only_in_all()
    skip_if(
      is.na(browser()) || !nzchar(Sys.which("pdftotext")),
      "no browser or pdftotext on this machine"
    )
    pdf <- tempfile(fileext = ".pdf")
    internal("print_page")(readLines(report_of(few_students()), encoding = "UTF-8"), pdf)
    text <- paste(system2("pdftotext", c(pdf, "-"), stdout = TRUE), collapse = "\n")
    pages <- strsplit(text, "\f", fixed = TRUE)[[1]]
    expect_gt(length(pages), 3)
    expect_true(all(grepl("Tides and Currents", pages, fixed = TRUE)))
    for (heading in c(
      "How it went", "The questions", "Every answer", "The standards",
      "What to teach again"
    )) {
      expect_match(text, heading, fixed = TRUE)
    }
    expect_false(grepl("Hide names|Filter questions|All sections", text))
  }
)

test_that("on paper too the headings of the grid stand over their columns", {
  only_in_all()
  skip_if(
    is.na(browser()) || !nzchar(Sys.which("pdftotext")),
    "no browser or pdftotext on this machine"
  )
  quiz <- few_students()
  pdf <- tempfile(fileext = ".pdf")
  internal("print_page")(readLines(report_of(quiz), encoding = "UTF-8"), pdf)
  words <- xml2::xml_find_all(
    xml2::read_html(
      paste(system2("pdftotext", c("-bbox", pdf, "-"), stdout = TRUE), collapse = "\n")
    ),
    "//page[word='Every']/word"
  )
  left <- stats::setNames(
    as.numeric(xml2::xml_attr(words, "xmin")),
    xml2::xml_text(words)
  )
  students <- summarise_students(quiz)
  first <- strsplit(students$name[which.max(students$share)], " ")[[1]][1]
  expect_equal(left[["Student"]], left[[first]], tolerance = 3 / left[["Student"]])
  expect_equal(
    left[["Level"]],
    min(left[names(left) == "secure"]),
    tolerance = 20 / left[["Level"]]
  )
})

test_that(
  paste0(
    "no violation is found by the rules for accessibility, in light, in the dark and ",
    "opened"
  ),
  {
    only_in_all()
    axe <- Sys.getenv("PREGUNTA_AXE")
    skip_if(!file.exists(axe), "axe-core is not on this machine")
    engine <- paste(readLines(axe, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
    # A dozen students: every cell of the grid is looked at.
    quiz <- few_students()
    pages <- lapply(c("teacher", "coordinator", "head"), function(who) {
      report_of(quiz, audience = who)
    })
    for (k in seq_along(pages)) {
      path <- pages[[k]]
      dark <- k == 1
      page <- page_after(
        path,
        paste0(
          if (dark) "document.documentElement.dataset.room='dark';",
          "document.querySelectorAll('.reactable').forEach(function(t){
      var b=t.querySelector('.rt-expander-button');if(b)b.click()});
      setTimeout(function(){axe.run(document,{resultTypes:['violations']}).then(function(r){
        said.found=r.violations.map(function(v){return v.id+v.nodes[0].html.slice(0,160)+v.nodes[0].failureSummary});
        said.passed=r.passes.length},
        function(e){faults.push(String(e))})},100);"
        ),
        before = engine,
        wait = 6000
      )
      expect_equal(page$faults, list())
      expect_equal(unlist(page$found), NULL)
      expect_gt(page$passed, 5)
    }
  }
)

test_that(
  paste0(
    "one switch hides all names, by keyboard too, and without names they are not in the ",
    "file"
  ),
  {
    quiz <- few_students()
    shown <- "function shown(q){return [].filter.call(document.querySelectorAll(q),
    function(e){return e.offsetParent!==null}).length}"
    page <- page_after(
      report_of(quiz),
      paste0(
        shown,
        "
    var b=document.getElementById('names');said.before=[shown('.who'),shown('.alias')];b.focus();
    said.focused=document.activeElement===b;b.click();
    said.after=[shown('.who'),shown('.alias')];said.pressed=b.getAttribute('aria-pressed');
    said.text=document.body.innerText;"
      )
    )
    expect_gt(page$before[1], 24)
    expect_equal(page$before[2], 0)
    expect_equal(page$after, rev(page$before))
    expect_true(page$focused)
    expect_equal(page$pressed, "true")
    expect_no_match(page$text, "Dario Driftwood", fixed = TRUE)

    html <- paste(
      readLines(report_of(quiz, names = FALSE), encoding = "UTF-8"),
      collapse = "\n"
    )
    for (name in c(quiz$students$name, quiz$students$student)) {
      expect_false(grepl(name, html, fixed = TRUE))
    }
  }
)

test_that("hostile text in every field is text on the page", {
  evil <- paste0(
    "<!--<script><img src=x ",
    "onerror=faults.push('ran')></script><script>faults.push('ran')</script>"
  )
  cell <- paste0("\"", evil, "\"")
  folder <- plain_folder(
    c("student,Q1,Q2", paste0("\"", evil, "\",", cell, ",B"), "b,B,B", "c,A,C", "d,A,B"),
    items = c(
      "item,type,key,prompt,rationale,standards",
      paste0("Q1,text,A,", cell, ",", cell, ",", cell), "Q2,choice,B,x,y,S"
    ),
    options.csv = c(
      "item,option,text,misconception", paste0("Q2,B,", cell, ","),
      paste0("Q2,C,", cell, ",M")
    ),
    misconceptions.csv = c("code,description", paste0("M,", cell)),
    standards.csv = c("code,title", paste0("S,", cell)),
    students.csv = c(
      "student,name,section", paste0(cell, ",", cell, ",", cell), "b,Bo,1", "c,Cy,1",
      "d,Di,1"
    ),
    test.yml = paste0("title: '", gsub("'", "''", evil), "'")
  )
  page <- page_after(
    report_of(read_sitting(folder)),
    "
    document.querySelectorAll('.rt-expander-button').forEach(function(b){b.click()});
    window.later=function(s){s.images=document.querySelectorAll('img').length;
      s.title=document.querySelector('h1').textContent;
      s.opened=document.querySelectorAll('#item-table .opened').length;
      s.twice=document.querySelectorAll('script[id=said]').length};"
  )
  expect_equal(page$faults, list())
  expect_equal(page$images, 0)
  expect_equal(page$title, evil)
  expect_equal(page$opened, 2)
})

test_that("the page is made for a class of one, for no standards and for nobody at all", {
  only_in_all()
  for (quiz in list(
    choice_sitting(matrix("A", 1, 1)),
    choice_sitting(matrix(c("A", NA), 2, 3)),
    choice_sitting(matrix(NA_character_, 2, 2))
  )) {
    page <- page_after(
      report_of(quiz),
      "said.title=document.querySelector('h1').textContent;"
    )
    expect_equal(page$faults, list())
    expect_equal(page$title, "Untitled test")
  }
})

test_that("the page of a whole school leaves out each one's answers, and says so", {
  many <- random_sitting(n = 401, k = 3)
  html <- paste(readLines(report_of(many), encoding = "UTF-8"), collapse = "\n")
  expect_true(
    grepl("With 401 students this page leaves out each one", html, fixed = TRUE)
  )
  expect_false(grepl("s017", html, fixed = TRUE))
  expect_true(grepl("What first", html, fixed = TRUE))
})

test_that("text on the steps of a level contrasts by at least 4 to 1", {
  luminance <- function(colour) {
    x <- grDevices::col2rgb(colour)[, 1] / 255
    sum(
      ifelse(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055)^2.4) *
        c(0.2126, 0.7152, 0.0722)
    )
  }
  for (ground in unique(unlist(lapply(1:6, internal("level_colours"))))) {
    pair <- sort(c(luminance(ground), luminance(internal("ink_on")(ground))))
    expect_gt((pair[2] + 0.05) / (pair[1] + 0.05), 4)
  }
})

test_that("a report or workbook without names shows nobody alone", {
  quiz <- read_sitting(demo_path())
  html <- paste(readLines(report_of(quiz, names = FALSE), encoding = "UTF-8"), collapse = "\n")
  doc <- xml2::read_html(html)
  text <- xml2::xml_text(xml2::xml_find_first(doc, "//*[@id='first']"))
  expect_no_match(html, "id=\"grid-table\"", fixed = TRUE)
  expect_match(text, "Without names nobody is shown alone", fixed = TRUE)
  shared <- jsonlite::fromJSON(xml2::xml_text(
    xml2::xml_find_first(doc, "//script[@id='shared']")
  ))
  expect_length(shared$people, 0)
  expect_match(text, "80 sat it")
  expect_no_match(text, "[0-9] to [0-9]+ points")
  path <- tempfile(fileext = ".xlsx")
  write_workbook(quiz, path)
  named <- openxlsx::getSheetNames(path)
  write_workbook(quiz, path, names = FALSE)
  left_out <- setdiff(named, openxlsx::getSheetNames(path))
  expect_setequal(left_out, c("students", "by standard", "grid"))
})

test_that("what is passed on says nothing of a class that is too small", {
  few <- choice_sitting(matrix(c("A", "B", "A"), 3, 2))
  path <- tempfile(fileext = ".html")
  shared <- list(
    function() write_report(few, path, names = FALSE),
    function() write_report(few, path, audience = "coordinator"),
    function() write_report(few, path, audience = "head"),
    function() write_workbook(few, path, names = FALSE)
  )
  for (write in shared) expect_refused(write(), "call", "Only 3 students sat it")
  expect_false(file.exists(path))
  expect_true(file.exists(write_report(few, path)))
})

test_that("a long table is drawn as it is read down, sorted whole, and printed whole", {
  skip_on_cran()
  set.seed(1)
  n <- 390
  ability <- rnorm(n)
  answers <- vapply(1:8, function(j) ifelse(runif(n) < plogis(ability), "A", "B"), character(n))
  colnames(answers) <- paste0("Q", 1:8)
  students <- data.frame(
    student = sprintf("s%03d", 1:n), section = sprintf("Section %03d", rep(1:130, each = 3))
  )
  quiz <- sitting(
    data.frame(student = students$student, answers),
    data.frame(item = colnames(answers), key = "A"),
    students = students
  )
  path <- tempfile(fileext = ".html")
  write_report(quiz, path, audience = "coordinator")
  seen <- page_after(path, paste0(
    "var t=document.getElementById('by-section-table');",
    "function rows(){return t.querySelectorAll('.rt-tbody > .rt-tr-group').length}",
    "said.first=rows();said.bar=getComputedStyle(t.querySelector('.rt-pagination')).display;",
    "t.querySelectorAll('.rt-tbody > .rt-tr-group')[39].scrollIntoView();document.dispatchEvent(new Event('scroll'));",
    "window.later=function(said){said.down=rows();",
    "var head=Array.from(t.querySelectorAll('.rt-th')).find(function(h){return /Section/.test(h.textContent)});",
    "var sort=head.querySelector('.rt-sort-header')||head;sort.click();sort.click();",
    "said.top=t.querySelector('.rt-tbody .rt-td').textContent;",
    "dispatchEvent(new Event('beforeprint'));said.printed=rows();",
    "dispatchEvent(new Event('afterprint'));said.after=rows();}"
  ), wait = 900)
  expect_identical(seen$faults, list())
  expect_identical(seen$first, 40L)
  expect_identical(seen$bar, "none")
  expect_gte(seen$down, 100L)
  expect_identical(seen$top, "Section 130")
  expect_identical(seen$printed, 130L)
  expect_identical(seen$after, 40L)
})
