//! A profile and a take made as small as they can be while something still goes wrong with them.

/// Takes lines away as long as `fails`; gives both.
pub fn smallest(profile: &str, take: &str, fails: impl Fn(&str, &str) -> bool) -> (String, String) {
    let (mut profile, mut take) = (profile.to_owned(), take.to_owned());
    loop {
        let before = profile.len() + take.len();
        take = fewer_lines(&take, |take| fails(&profile, take));
        profile = fewer_lines(&profile, |profile| fails(profile, &take));
        if profile.len() + take.len() == before {
            return (profile, take);
        }
    }
}

fn fewer_lines(text: &str, fails: impl Fn(&str) -> bool) -> String {
    let mut lines: Vec<&str> = text.lines().collect();
    let mut size = lines.len();
    while size > 0 {
        let mut at = 0;
        while at < lines.len() {
            let mut fewer = lines.clone();
            fewer.drain(at..(at + size).min(lines.len()));
            let text: String = fewer.iter().map(|line| format!("{line}\n")).collect();
            if fails(&text) {
                lines = fewer;
            } else {
                at += size;
            }
        }
        size /= 2;
    }
    lines.iter().map(|line| format!("{line}\n")).collect()
}
