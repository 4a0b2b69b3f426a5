# later
