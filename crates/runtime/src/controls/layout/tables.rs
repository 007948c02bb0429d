//! Which character each key types: made by `layouts/make`, not by hand.
//!
//! Source: the X keyboard extension's data, xkb-data 2.35.1-1; `layouts/NOTICE`. Each row is
//! that of [`KEYS`], alone, with Shift and with the third level's key; a space stands for nothing,
//! a combining character for a dead key that adds it.

/// The keys that type characters, row by row, by their codes.
pub(super) const KEYS: [&[&str]; 4] = [
    &["Backquote", "Digit1", "Digit2", "Digit3", "Digit4", "Digit5", "Digit6", "Digit7", "Digit8", "Digit9", "Digit0", "Minus", "Equal", "IntlYen"],
    &["KeyQ", "KeyW", "KeyE", "KeyR", "KeyT", "KeyY", "KeyU", "KeyI", "KeyO", "KeyP", "BracketLeft", "BracketRight", "Backslash"],
    &["KeyA", "KeyS", "KeyD", "KeyF", "KeyG", "KeyH", "KeyJ", "KeyK", "KeyL", "Semicolon", "Quote"],
    &["IntlBackslash", "KeyZ", "KeyX", "KeyC", "KeyV", "KeyB", "KeyN", "KeyM", "Comma", "Period", "Slash", "IntlRo"],
];

/// What the keys of each row type on each level.
pub(super) type Rows = [[&'static str; 3]; 4];

/// A layout: its word, what people call it, and what its keys type.
pub(super) const LAYOUTS: [(&str, &str, Rows); 35] = [
    ("us", "American", [
        ["`1234567890-= ", "~!@#$%^&*()_+ ", ""],
        ["qwertyuiop[]\\", "QWERTYUIOP{}|", ""],
        ["asdfghjkl;'", "ASDFGHJKL:\"", ""],
        ["<zxcvbnm,./ ", ">ZXCVBNM<>? ", "|           "],
    ]),
    ("us-intl", "American, international", [
        ["\u{300}1234567890-= ", "\u{303}!@#$%\u{302}&*()_+ ", "`¡²³¤€¼½¾‘’¥× "],
        ["qwertyuiop[]\\", "QWERTYUIOP{}|", "äåé®þüúíóö«»¬"],
        ["asdfghjkl;\u{301}", "ASDFGHJKL:\u{308}", "áßðfghjœø¶'"],
        ["\\zxcvbnm,./ ", "|ZXCVBNM<>? ", "\\æx©vbñµç\u{307}¿ "],
    ]),
    ("uk", "British", [
        ["`1234567890-= ", "¬!\"£$%^&*()_+ ", "|¹²³€½¾{[]}\\\u{327} "],
        ["qwertyuiop[]#", "QWERTYUIOP{}~", "@ſe¶ŧ←↓→øþ\u{308}\u{303}\u{300}"],
        ["asdfghjkl;'", "ASDFGHJKL:@", "æßðđŋħ\u{309}ĸł\u{301}\u{302}"],
        ["\\zxcvbnm,./ ", "|ZXCVBNM<>? ", "|«»¢„“”µ•·\u{323} "],
    ]),
    ("de", "German", [
        ["\u{302}1234567890ß\u{301} ", "°!\"§$%&/()=?\u{300} ", "′¹²³¼½¬{[]}\\\u{327} "],
        ["qwertzuiopü+#", "QWERTZUIOPÜ*'", "@ſ€¶ŧ←↓→øþ\u{308}~’"],
        ["asdfghjklöä", "ASDFGHJKLÖÄ", "æſðđŋħ\u{323}ĸł\u{30b}\u{302}"],
        ["<yxcvbnm,.- ", ">YXCVBNM;:_ ", "|»«¢„“”µ·…– "],
    ]),
    ("at", "Austrian", [
        ["\u{302}1234567890ß\u{301} ", "°!\"§$%&/()=?\u{300} ", "′¹²³¼½¬{[]}\\\u{327} "],
        ["qwertzuiopü+#", "QWERTZUIOPÜ*'", "@ſ€¶ŧ←↓→øþ\u{308}~’"],
        ["asdfghjklöä", "ASDFGHJKLÖÄ", "æſðđŋħ\u{323}ĸł\u{30b}\u{302}"],
        ["<yxcvbnm,.- ", ">YXCVBNM;:_ ", "|»«¢„“”µ·…– "],
    ]),
    ("ch", "Swiss German", [
        ["§1234567890'\u{302} ", "°+\"*ç%&/()=?\u{300} ", "¬|@#¼½¬|¢]}\u{301}\u{303} "],
        ["qwertzuiopü\u{308}$", "QWERTZUIOPè!£", "@ſ€¶ŧ←↓→œþ[]}"],
        ["asdfghjklöä", "ASDFGHJKLéà", "æßðđŋħ\u{309}ĸł\u{301}{"],
        ["<yxcvbnm,.- ", ">YXCVBNM;:_ ", "\\«»¢„“”µ•·\u{323} "],
    ]),
    ("ch-fr", "Swiss French", [
        ["§1234567890'\u{302} ", "°+\"*ç%&/()=?\u{300} ", "¬|@#¼½¬|¢]}\u{301}\u{303} "],
        ["qwertzuiopè\u{308}$", "QWERTZUIOPü!£", "@ſ€¶ŧ←↓→œþ[]}"],
        ["asdfghjkléà", "ASDFGHJKLöä", "æßðđŋħ\u{309}ĸł\u{301}{"],
        ["<yxcvbnm,.- ", ">YXCVBNM;:_ ", "\\«»¢„“”µ•·\u{323} "],
    ]),
    ("fr", "French", [
        ["²&é\"'(-è_çà)= ", " 1234567890°+ ", "  ~#{[|`\\^@]} "],
        ["azertyuiop\u{302}$*", "AZERTYUIOP\u{308}£µ", "  €        ¤ "],
        ["qsdfghjklmù", "QSDFGHJKLM%", ""],
        ["<wxcvbn,;:! ", ">WXCVBN?./§ ", "|           "],
    ]),
    ("be", "Belgian", [
        ["²&é\"'(§è!çà)- ", "³1234567890°_ ", "¬|@#¼½^{[{}\\\u{327} "],
        ["azertyuiop\u{302}$µ", "AZERTYUIOP\u{308}*£", "@ſ€¶ŧ←↓→œþ[]\u{300}"],
        ["qsdfghjklmù", "QSDFGHJKLM%", "æßðđŋħ\u{309}ĸł\u{301}\u{301}"],
        ["<wxcvbn,;:= ", ">WXCVBN?./+ ", "\\«»¢„“”\u{327}•·\u{303} "],
    ]),
    ("ca", "Canadian French", [
        ["#1234567890-= ", "|!\"/$%?&*()_+ ", "\\±@£¢¤¬¦²³¼½¾ "],
        ["qwertyuiop\u{302}\u{327}<", "QWERTYUIOP\u{302}\u{308}>", "        §¶[]}"],
        ["asdfghjkl;\u{300}", "ASDFGHJKL:\u{300}", "         ~{"],
        ["«zxcvbnm,.é ", "»ZXCVBNM'.É ", "°      µ¯ \u{301} "],
    ]),
    ("nl", "Dutch", [
        ["@1234567890/° ", "§!\"#$%&_()'?\u{303} ", "¬¹²³¼½¾£{}°\\\u{327} "],
        ["qwertyuiop\u{308}*<", "QWERTYUIOP\u{302}|>", "@ſ€¶þÿüïò¶~\u{303}\u{300}"],
        ["asdfghjkl+\u{301}", "ASDFGHJKL±\u{300}", "áßðªŋħ\u{309}ĸł\u{301}'"],
        ["]zxcvbnm,.- ", "[ZXCVBNM;:= ", "|«»¢“”ñμ¸·  "],
    ]),
    ("es", "Spanish", [
        ["º1234567890'¡ ", "ª!\"·$%&/()=?¿ ", "\\|@#~½¬{[]}\\\u{327} "],
        ["qwertyuiop\u{300}+ç", "QWERTYUIOP\u{302}*Ç", "@ſ€¶ŧ←↓→øþ[]}"],
        ["asdfghjklñ\u{301}", "ASDFGHJKLÑ\u{308}", "æßðđŋħ\u{309}ĸł\u{303}{"],
        ["<zxcvbnm,.- ", ">ZXCVBNM;:_ ", "|«»¢„“”µ•·\u{323} "],
    ]),
    ("latam", "Latin American", [
        ["|1234567890'¿ ", "°!\"#$%&/()=?¡ ", "¬|@·~½¬{[]}\\\u{327} "],
        ["qwertyuiop\u{301}+}", "QWERTYUIOP\u{308}*]", "@ſ€¶ŧ←↓→øþ\u{308}~\u{300}"],
        ["asdfghjklñ{", "ASDFGHJKLÑ[", "æßðđŋħ\u{309}ĸł~\u{302}"],
        ["<zxcvbnm,.- ", ">ZXCVBNM;:_ ", "\\«»¢„“”µ•·\u{323} "],
    ]),
    ("pt", "Portuguese", [
        ["\\1234567890'« ", "|!\"#$%&/()=?» ", "¬¹@£§½¬{[]}\\\u{327} "],
        ["qwertyuiop+\u{301}\u{303}", "QWERTYUIOP*\u{300}\u{302}", "@ſ€¶ŧ←↓→øþ\u{308}\u{303}\u{300}"],
        ["asdfghjklçº", "ASDFGHJKLÇª", "æßðđŋħ\u{309}ĸł\u{301}\u{302}"],
        ["<zxcvbnm,.- ", ">ZXCVBNM;:_ ", "\\«»¢„“”µ•·\u{323} "],
    ]),
    ("br", "Brazilian", [
        ["'1234567890-= ", "\"!@#$%\u{308}&*()_+ ", "¬¹²³£¢¬{[]}\\§ "],
        ["qwertyuiop\u{301}[]", "QWERTYUIOP\u{300}{}", "/?°®ŧ←↓→øþ´ªº"],
        ["asdfghjklç\u{303}", "ASDFGHJKLÇ\u{302}", "æßðđŋħ\u{309}ĸł\u{301}~"],
        ["\\zxcvbnm,.;/", "|ZXCVBNM<>:?", "\u{30c}«»©„“”µ•·\u{323}°"],
    ]),
    ("it", "Italian", [
        ["\\1234567890'ì ", "|!\"£$%&/()=?^ ", "¬¹²³¼½¬{[]}`~ "],
        ["qwertyuiopè+ù", "QWERTYUIOPé*§", "@ſ€¶ŧ←↓→øþ[]\u{300}"],
        ["asdfghjklòà", "ASDFGHJKLç°", "æßðđŋħ\u{309}ĸł@#"],
        ["<zxcvbnm,.- ", ">ZXCVBNM;:_ ", "««»¢“”ñµ\u{301}·\u{304} "],
    ]),
    ("dk", "Danish", [
        ["½1234567890+\u{301} ", "§!\"#¤%&/()=?\u{300} ", "¾¡@£$½¥{[]}±| "],
        ["qwertyuiopå\u{308}'", "QWERTYUIOPÅ\u{302}*", "@ſ€®þ←↓→œþ\u{308}\u{303}\u{30b}"],
        ["asdfghjklæø", "ASDFGHJKLÆØ", "ªßðđŋħ\u{309}ĸł\u{301}\u{302}"],
        ["<zxcvbnm,.- ", ">ZXCVBNM;:_ ", "\\«»©„“”µ\u{327}·\u{323} "],
    ]),
    ("no", "Norwegian", [
        ["|1234567890+\\ ", "§!\"#¤%&/()=?\u{300} ", "¦¡@£$½¥{[]}±\u{301} "],
        ["qwertyuiopå\u{308}'", "QWERTYUIOPÅ\u{302}*", "@ſ€®þ←↓→œπ\u{308}\u{303}\u{30b}"],
        ["asdfghjkløæ", "ASDFGHJKLØÆ", "ªßðđŋħ\u{309}ĸł\u{301}\u{302}"],
        ["<zxcvbnm,.- ", ">ZXCVBNM;:_ ", "½«»©„“”µ\u{327}…– "],
    ]),
    ("se", "Swedish", [
        ["§1234567890+\u{301} ", "½!\"#¤%&/()=?\u{300} ", "¶¡@£$€¥{[]}\\± "],
        ["qwertyuiopå\u{308}'", "QWERTYUIOPÅ\u{302}*", "@ſ€®þ←↓→œþ\u{308}\u{303}´"],
        ["asdfghjklöä", "ASDFGHJKLÖÄ", "ªßðđŋħ\u{309}ĸłøæ"],
        ["<zxcvbnm,.- ", ">ZXCVBNM;:_ ", "|«»©„“”µ\u{327}·\u{323} "],
    ]),
    ("fi", "Finnish", [
        ["§1234567890+\u{301} ", "½!\"#¤%&/()=?\u{300} ", "\u{335} @£$‰‚{[]}\\\u{327} "],
        ["qwertyuiopå\u{308}'", "QWERTYUIOPÅ\u{302}*", "qw€rþyuıœ\u{31b}\u{30b}\u{303}\u{30c}"],
        ["asdfghjklöä", "ASDFGHJKLÖÄ", "əßðfghjĸ\u{335}øæ"],
        ["<zxcvbnm,.- ", ">ZXCVBNM;:_ ", "|ʒ×cvbŋµ’\u{323}– "],
    ]),
    ("is", "Icelandic", [
        ["\u{30a}1234567890ö- ", "\u{308}!\"#$%&/()=Ö_ ", "¬¹²³¼½¬{[]}\\\u{327} "],
        ["qwertyuiopð'+", "QWERTYUIOPÐ?*", "@ſ€¶ŧ←↓→ø|\u{308}~`"],
        ["asdfghjklæ\u{301}", "ASDFGHJKLÆ\u{301}", "æß„đŋħ\u{309}ĸł^\u{302}"],
        ["<zxcvbnm,.þ ", ">ZXCVBNM;:Þ ", "|«»¢„“”µ•·\u{323} "],
    ]),
    ("pl", "Polish", [
        ["`1234567890-= ", "~!@#$%^&*()_+ ", "¬≠²³¢€½§·«»–\u{327} "],
        ["qwertyuiop[]\\", "QWERTYUIOP{}|", "πœę©ß←↓→óþ\u{308}\u{303}\u{300}"],
        ["asdfghjkl;'", "ASDFGHJKL:\"", "ąśðæŋ’ə…ł\u{301}\u{302}"],
        ["<zxcvbnm,./ ", ">ZXCVBNM<>? ", "|żźć„”ńµ≤≥\u{323} "],
    ]),
    ("cz", "Czech", [
        [";+ěščřžýáíé=\u{301} ", "\u{30a}1234567890%\u{30c} ", "`!@#$%^&*{}\\\u{304} "],
        ["qwertzuiopú)\u{308}", "QWERTZUIOP/('", "\\|€¶ŧ←↓→øþ[]\\"],
        ["asdfghjklů§", "ASDFGHJKL\"!", "~đĐ[]`'łŁ$'"],
        ["\\yxcvbnm,.- ", "|YXCVBNM?:_ ", "/°#&@{}^<>* "],
    ]),
    ("sk", "Slovak", [
        [";+ľščťžýáíé=\u{301} ", "\u{30a}1234567890%\u{30c} ", "`!@#$%^&*{}\\\u{304} "],
        ["qwertzuiopúäň", "QWERTZUIOP/()", "\\|€¶ŧ←↓→øþ[]\\"],
        ["asdfghjklô§", "ASDFGHJKL\"!", "~đĐ[]`'łŁ$'"],
        ["\\yxcvbnm,.- ", "|YXCVBNM?:_ ", "/°#&@{}^<>* "],
    ]),
    ("hu", "Hungarian", [
        ["0123456789öüó ", "§'\"+!%/=()ÖÜÓ ", "¬~\u{30c}^\u{306}\u{30a}\u{328}`\u{307}\u{301}\u{30b}\u{308}\u{327} "],
        ["qwertzuiopőúű", "QWERTZUIOPŐÚŰ", "\\|Ä¶ŧ–€Í„”÷×¤"],
        ["asdfghjkléá", "ASDFGHJKLÉÁ", "äđĐ[]ħíłŁ$ß"],
        ["íyxcvbnm,.- ", "ÍYXCVBNM?:_ ", "<>#&@{}<;>* "],
    ]),
    ("ro", "Romanian", [
        ["`1234567890-= ", "~!@#$%^&*()_+ ", " \u{303}\u{30c}\u{302}\u{306}\u{30a}\u{328}\u{300}\u{307}\u{301}\u{30b}\u{308}\u{327} "],
        ["qwertyuiop[]\\", "QWERTYUIOP{}|", "âß€ ț  î §„” "],
        ["asdfghjkl;'", "ASDFGHJKL:\"", "ășđ     ł  "],
        ["\\zxcvbnm,./ ", "|ZXCVBNM<>? ", "|  ©    «»  "],
    ]),
    ("hr", "Croatian", [
        ["`1234567890'+ ", "~!\"#$%&/()=?* ", "¬~\u{30c}^\u{306}°\u{328}`\u{307}\u{301}\u{30b}\u{308}\u{327} "],
        ["qwertzuiopšđž", "QWERTZUIOPŠĐŽ", "\\|€¶ŧ←↓→øþ÷×¤"],
        ["asdfghjklčć", "ASDFGHJKLČĆ", "æ„”[]ħ\u{309}łł\u{301}ß"],
        ["<yxcvbnm,.- ", ">YXCVBNM;:_ ", "|‘’¢@{}§<>\u{323} "],
    ]),
    ("tr", "Turkish", [
        ["\"1234567890*- ", "é!'^+%&/()=?_ ", "<>£#$½¾{[]}\\| "],
        ["qwertyuıopğü,", "QWERTYUIOPĞÜ;", "@ €¶₺←ûîô \u{308}~`"],
        ["asdfghjklşi", "ASDFGHJKLŞİ", "âß ª  \u{309}  ´'"],
        ["<zxcvbnmöç. ", ">ZXCVBNMÖÇ: ", "|«»¢„“”µ×·\u{307} "],
    ]),
    ("gr", "Greek", [
        ["`1234567890-= ", "~!@#$%^&*()_+ ", "  ½£¼€ϰϗ₯ °±  "],
        [";ςερτυθιοπ[]\\", ":ΣΕΡΤΥΘΙΟΠ{}|", "·ϛ€® ϒϑͻ ϡ\u{303}  "],
        ["ασδφγηξκλ\u{301}'", "ΑΣΔΦΓΗΞΚΛ\u{308}\"", "  ↓ϕϝ ͼϟϲ\u{301}\u{300}"],
        ["«ζχψωβνμ,./ ", "»ΖΧΨΩΒΝΜ<>? ", "|ͽ→©ϖϐʹϻ«»  "],
    ]),
    ("ru", "Russian", [
        ["ё1234567890-= ", "Ё!\"№;%:?*()_+ ", "        ₽     "],
        ["йцукенгшщзхъ\\", "ЙЦУКЕНГШЩЗХЪ/", ""],
        ["фывапролджэ", "ФЫВАПРОЛДЖЭ", ""],
        ["/ячсмитьбю. ", "|ЯЧСМИТЬБЮ, ", "|           "],
    ]),
    ("ua", "Ukrainian", [
        ["'1234567890-= ", "ʼ!\"№;%:?*()_+ ", " ¹²§$°<>•[]—≠ "],
        ["йцукенгшщзхїґ", "ЙЦУКЕНГШЩЗХЇҐ", "јџў®ёњ     ъ\\"],
        ["фівапролджє", "ФІВАПРОЛДЖЄ", " ы     љђ э"],
        ["/ячсмитьбю. ", "|ЯЧСМИТЬБЮ, ", "| ћ©  ™ «»/ "],
    ]),
    ("jis", "Japanese", [
        [" 1234567890-^\\", " !\"#$%&'()~=~|", ""],
        ["qwertyuiop@[]", "QWERTYUIOP`{}", ""],
        ["asdfghjkl;:", "ASDFGHJKL+*", ""],
        ["<zxcvbnm,./\\", ">ZXCVBNM<>?_", "|           "],
    ]),
    ("ko", "Korean", [
        ["`1234567890-= ", "~!@#$%^&*()_+ ", ""],
        ["qwertyuiop[]\\", "QWERTYUIOP{}|", ""],
        ["asdfghjkl;'", "ASDFGHJKL:\"", ""],
        ["<zxcvbnm,./ ", ">ZXCVBNM<>? ", "|           "],
    ]),
    ("dvorak", "Dvorak's", [
        ["`1234567890[] ", "~!@#$%^&*(){} ", "\u{300}     \u{302}  \u{300}  \u{303} "],
        ["',.pyfgcrl/=\\", "\"<>PYFGCRL?+|", "\u{301}\u{327}\u{307}          "],
        ["aoeuidhtns-", "AOEUIDHTNS_", ""],
        ["<;qjkxbmwvz ", ">:QJKXBMWVZ ", "|\u{328}          "],
    ]),
    ("colemak", "Colemak", [
        ["`1234567890-= ", "~!@#$%^&*()_+ ", "\u{303}¡ºª¢€ħðþ‘’–× "],
        ["qwfpgjluy;[]\\", "QWFPGJLUY:{}|", "äåãø\u{328}đłúüö«»~"],
        ["arstdhneio'", "ARSTDHNEIO\"", "á\u{300}ß\u{301}\u{308}\u{30c}ñéíóõ"],
        ["-zxcvbkm,./ ", "_ZXCVBKM<>? ", "–æ\u{302}çœ\u{306}\u{30a}\u{304}\u{327}\u{307}¿ "],
    ]),
];
