//! Markdown as text for a terminal.

use super::table::columns;
use crate::output::style::{Ink, Look, hung, wrapped};
use pulldown_cmark::{Event, Options, Parser, Tag, TagEnd};

/// `text` laid out for `look`: headings, paragraphs, lists, code and tables. Where links lead is left
/// out.
pub fn text(text: &str, look: Look) -> String {
    let mut page = Page { look, out: String::new(), inline: String::new(), table: None };
    let mut item = 0_usize;
    let mut in_code = false;
    for event in Parser::new_ext(text, Options::ENABLE_TABLES) {
        match event {
            Event::Text(text) if in_code => {
                let lines = text.lines().map(|line| hung(&format!("    {line}"), look.width));
                lines.for_each(|line| page.out.push_str(&format!("{line}\n")));
            }
            Event::Text(text) => page.inline.push_str(&text),
            Event::Code(code) => page.inline.push_str(&format!("`{code}`")),
            Event::SoftBreak | Event::HardBreak => page.inline.push(' '),
            Event::Start(Tag::CodeBlock(_)) => {
                page.part();
                in_code = true;
            }
            Event::End(TagEnd::CodeBlock) => in_code = false,
            Event::Start(Tag::Item) => item += 1,
            Event::End(TagEnd::Item) => {
                page.item();
                item -= 1;
            }
            Event::Start(Tag::List(_)) => page.part(),
            Event::Start(Tag::Table(_)) => page.table = Some(Cells::default()),
            Event::End(TagEnd::TableCell) => page.cell(),
            Event::End(TagEnd::TableHead | TagEnd::TableRow) => page.row(),
            Event::End(TagEnd::Table) => page.whole_table(),
            Event::End(TagEnd::Heading(_)) => page.heading(),
            Event::End(TagEnd::Paragraph) if item == 0 => page.paragraph(),
            _ => {}
        }
    }
    page.out
}

/// The rows of a table; the first are its heads.
#[derive(Default)]
struct Cells {
    rows: Vec<Vec<String>>,
    row: Vec<String>,
}

struct Page {
    look: Look,
    out: String,
    /// What stands in the part that is being read.
    inline: String,
    table: Option<Cells>,
}

impl Page {
    /// An empty line before what comes.
    fn part(&mut self) {
        if !self.out.is_empty() && !self.out.ends_with("\n\n") {
            self.out.push('\n');
        }
    }

    fn taken(&mut self) -> String {
        std::mem::take(&mut self.inline)
    }

    fn heading(&mut self) {
        let text = self.taken();
        self.part();
        self.out.push_str(&hung(&self.look.paint(Ink::Strong, text), self.look.width));
        self.out.push('\n');
    }

    fn paragraph(&mut self) {
        let text = self.taken();
        self.part();
        let text = wrapped(&text, self.look.width);
        self.out.push_str(&format!("{text}\n"));
    }

    fn item(&mut self) {
        let text = self.taken();
        self.out.push_str(&hung(&format!("- {text}"), self.look.width));
        self.out.push('\n');
    }

    fn cell(&mut self) {
        let text = self.taken();
        if let Some(table) = &mut self.table {
            table.row.push(text);
        }
    }

    fn row(&mut self) {
        if let Some(table) = &mut self.table {
            table.rows.push(std::mem::take(&mut table.row));
        }
    }

    fn whole_table(&mut self) {
        let Some(Cells { mut rows, .. }) = self.table.take() else { return };
        self.part();
        let heads = rows.remove(0);
        let heads: Vec<&str> = heads.iter().map(String::as_str).collect();
        self.out.push_str(&columns(self.look, &heads, rows));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn markdown_becomes_text_that_fits() {
        let look = Look { color: false, width: 40, columns: 40 };
        let told = text(
            "# The `file`\n\nA *profile* is TOML, see [players](players.md), and it\ngoes on for long.\n\n\
             - one\n- two `a | b`\n\n```toml\na = 1\n\nb = 2\n```\n\n| key | says |\n|---|---|\n| `a` | one |\n",
            look,
        );
        let wanted = "The `file`\n\nA profile is TOML, see players, and it\ngoes on for long.\n\n\
                      - one\n- two `a | b`\n\n    a = 1\n    \n    b = 2\n\nkey  says\n`a`  one\n";
        assert_eq!(told, wanted);
    }
}
